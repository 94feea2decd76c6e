import { Circle, Ellipse, Layer, Line } from 'react-konva';
import type { LinearOperation, RadialOperation } from '@vitrocept/core';
import type { Placement } from '../surfaces/FrameSurface';

interface ShapeLayerProps {
  readonly placement: Placement;
  readonly shape: RadialOperation | LinearOperation | null;
}

const LINE_PX = 4000;

/** The shape being drawn or adjusted, light on dark so that it shows on any ground. */
export function ShapeLayer({ placement: { scale, x, y }, shape }: ShapeLayerProps) {
  if (!shape) return null;
  const atX = (u: number) => x + (u + 0.5) * scale;
  const atY = (v: number) => y + (v + 0.5) * scale;
  const strokes = [
    { stroke: '#1C1F1E', strokeWidth: 3 },
    { stroke: '#fff', strokeWidth: 1.25 },
  ];
  if (shape.kind === 'radial') {
    const { rx, ry, featherPercent } = shape;
    const full = 1 - featherPercent / 100;
    const place = { x: atX(shape.x), y: atY(shape.y) };
    return (
      <Layer listening={false}>
        {strokes.map((stroke) => (
          <Ellipse key={stroke.stroke} {...place} radiusX={rx * scale} radiusY={ry * scale} {...stroke} />
        ))}
        {full > 0.02 &&
          strokes.map((stroke) => (
            <Ellipse
              key={stroke.stroke}
              {...place}
              radiusX={rx * full * scale}
              radiusY={ry * full * scale}
              dash={[4, 4]}
              {...stroke}
            />
          ))}
        <Circle {...place} radius={3} fill="#fff" stroke="#1C1F1E" strokeWidth={1} />
      </Layer>
    );
  }
  const { x0, y0, x1, y1 } = shape;
  const length = Math.hypot(x1 - x0, y1 - y0) || 1;
  const [nx, ny] = [(-(y1 - y0) / length) * LINE_PX, ((x1 - x0) / length) * LINE_PX];
  const across = (u: number, v: number) => [atX(u) - nx, atY(v) - ny, atX(u) + nx, atY(v) + ny];
  return (
    <Layer listening={false}>
      {strokes.flatMap((stroke) => [
        <Line key={`${stroke.stroke} full`} points={across(x0, y0)} {...stroke} />,
        <Line key={`${stroke.stroke} none`} points={across(x1, y1)} dash={[6, 4]} {...stroke} />,
        <Line key={`${stroke.stroke} way`} points={[atX(x0), atY(y0), atX(x1), atY(y1)]} {...stroke} />,
      ])}
    </Layer>
  );
}
