import type Konva from 'konva';
import { useEffect, useRef } from 'react';
import { Group, Layer, Line, Rect, Transformer } from 'react-konva';
import { cropOf, levellingOf, withCrop, type Prescription, type Region } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import type { Placement } from '../surfaces/FrameSurface';

const SHADE = 'rgba(236, 236, 234, 0.62)';
const LEAST_PX = 16;

interface CropLayerProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly placement: Placement;
  /** Width over height that is kept while a corner is dragged; null: free. */
  readonly ratio: number | null;
  /** Something else is drawn now. */
  readonly isIdle: boolean;
}

/** The crop over the whole frame, lying as the level picture lies: what falls away is under paper; thirds within. */
export function CropLayer({ frame, prescription, placement, ratio, isIdle }: CropLayerProps) {
  const change = useFrameStore((state) => state.change);
  const rect = useRef<Konva.Rect>(null);
  const handles = useRef<Konva.Transformer>(null);
  const crop = cropOf(prescription, frame);
  const { straightenDeg } = levellingOf(prescription, frame);
  const { scale, x, y } = placement;
  useEffect(() => {
    if (rect.current) handles.current?.nodes(isIdle ? [] : [rect.current]);
  }, [isIdle]);

  // Within the group px are those of the level picture, seen from the frame's middle.
  const middle = { x: frame.width / 2, y: frame.height / 2 };
  const own = { x: crop.x - middle.x, y: crop.y - middle.y, width: crop.width, height: crop.height };
  const read = () => {
    const node = rect.current!;
    const next = {
      x: node.x() + middle.x,
      y: node.y() + middle.y,
      width: Math.max(LEAST_PX, node.width() * node.scaleX()),
      height: Math.max(LEAST_PX, node.height() * node.scaleY()),
    };
    node.scale({ x: 1, y: 1 });
    node.position(own);
    node.size(own);
    change((old) => withCrop(old, frame, next));
  };
  const thirds = [1 / 3, 2 / 3].flatMap((share) => [
    [own.x + share * own.width, own.y, own.x + share * own.width, own.y + own.height],
    [own.x, own.y + share * own.height, own.x + own.width, own.y + share * own.height],
  ]);
  const outside = aroundOf(own, frame);
  return (
    <Layer>
      <Group x={x + middle.x * scale} y={y + middle.y * scale} scaleX={scale} scaleY={scale} rotation={-straightenDeg}>
        {outside.map((part, i) => (
          <Rect key={i} {...part} fill={SHADE} listening={false} />
        ))}
        {thirds.map((points, i) => (
          <Line key={i} points={points} stroke="#fff" opacity={0.5} strokeWidth={1 / scale} listening={false} />
        ))}
        <Rect
          ref={rect}
          {...own}
          stroke="#1C1F1E"
          strokeWidth={1.5}
          strokeScaleEnabled={false}
          draggable={!isIdle}
          listening={!isIdle}
          onDragEnd={read}
          onTransformEnd={read}
        />
      </Group>
      <Transformer
        ref={handles}
        rotateEnabled={false}
        flipEnabled={false}
        borderStroke="#F7F7F5"
        anchorSize={10}
        anchorCornerRadius={2}
        anchorStroke="#17695F"
        anchorFill="#F7F7F5"
        keepRatio={ratio !== null}
        enabledAnchors={ratio === null ? undefined : ['top-left', 'top-right', 'bottom-left', 'bottom-right']}
      />
    </Layer>
  );
}

/** Four rectangles that cover what lies around one, as far as the frame reaches however it is turned. */
function aroundOf({ x, y, width, height }: Region, frame: { width: number; height: number }): Region[] {
  const far = Math.hypot(frame.width, frame.height) / 2;
  return [
    { x: -far, y: -far, width: 2 * far, height: y + far },
    { x: -far, y: y + height, width: 2 * far, height: far - y - height },
    { x: -far, y, width: x + far, height },
    { x: x + width, y, width: far - x - width, height },
  ].filter((part) => part.width > 0 && part.height > 0);
}
