import { Layer, Line } from 'react-konva';
import { toFrame, type Corrections, type Size } from '@vitrocept/core';
import type { Placement } from '../surfaces/FrameSurface';

const LINES = 8;
const POINTS = 24;

interface LensGridProps {
  readonly frame: Size;
  readonly corrections: Corrections;
  readonly placement: Placement;
}

/**
 * Lines that will be straight once the distortion is taken out: laid along what should be straight they tell how much
 * it is.
 */
export function LensGrid({ frame, corrections, placement }: LensGridProps) {
  const levelling = { frame, straightenDeg: 0, distortionPercent: corrections.distortionPercent.value };
  const points = (x: (t: number) => number, y: (t: number) => number) =>
    Array.from({ length: POINTS + 1 }, (_, i) => {
      const at = toFrame(levelling, { x: x(i / POINTS), y: y(i / POINTS) });
      return [placement.x + (at.x + 0.5) * placement.scale, placement.y + (at.y + 0.5) * placement.scale];
    }).flat();
  const steps = Array.from({ length: LINES - 1 }, (_, i) => (i + 1) / LINES);
  const lines = [
    ...steps.map((share) =>
      points(
        (t) => t * frame.width,
        () => share * frame.height,
      ),
    ),
    ...steps.map((share) =>
      points(
        () => share * frame.width,
        (t) => t * frame.height,
      ),
    ),
  ];
  return (
    <Layer listening={false}>
      {lines.flatMap((line, i) => [
        <Line key={`${i} under`} points={line} stroke="#1C1F1E" strokeWidth={2} opacity={0.35} />,
        <Line key={`${i} over`} points={line} stroke="#fff" strokeWidth={0.75} opacity={0.8} />,
      ])}
    </Layer>
  );
}
