import { Layer, Rect } from 'react-konva';
import type { WhiteBalance } from '@vitrocept/core';
import type { Placement } from '../surfaces/FrameSurface';

/** Side of the picked square, px of the frame, and the least at which it is drawn. */
const SIDE = 5;
const LEAST_DRAWN = 11;

/** The place that was picked as grey. */
export function GreyMark({ whiteBalance, placement }: { whiteBalance: WhiteBalance; placement: Placement }) {
  if (whiteBalance.kind !== 'picked') return null;
  const side = Math.max(LEAST_DRAWN, SIDE * placement.scale);
  const x = placement.x + (whiteBalance.x + 0.5) * placement.scale - side / 2;
  const y = placement.y + (whiteBalance.y + 0.5) * placement.scale - side / 2;
  return (
    <Layer listening={false}>
      <Rect x={x} y={y} width={side} height={side} stroke="#1C1F1E" strokeWidth={3} />
      <Rect x={x} y={y} width={side} height={side} stroke="#fff" strokeWidth={1.25} />
    </Layer>
  );
}
