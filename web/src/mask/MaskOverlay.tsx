import { Circle, Image as KonvaImage, Layer, Line } from 'react-konva';
import type { Face, MaskOperation, Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useBrushStore } from '../stores/brushStore';
import { FacesLayer } from '../surfaces/FacesLayer';
import type { Placement } from '../surfaces/FrameSurface';
import { OtherMasks } from './OtherMasks';
import { ShapeLayer } from './ShapeLayer';
import { selectedShape } from './ShapeTool';
import type { useMaskPointer } from './useMaskPointer';
import type { useMaskVeil } from './useMaskVeil';

interface MaskOverlayProps {
  readonly frame: FrameDetail;
  readonly placement: Placement;
  readonly operations: readonly MaskOperation[];
  readonly others: readonly Prescription[];
  readonly chosen: readonly Face[];
  readonly veil: ReturnType<typeof useMaskVeil>;
  readonly pointer: ReturnType<typeof useMaskPointer>;
}

/** The mask over the picture, what other masks cover, the brush and the shape that is being drawn. */
export function MaskOverlay({ frame, placement, operations, others, chosen, veil, pointer }: MaskOverlayProps) {
  const { tool, brush, dab, sizePx, view, selected } = useBrushStore();
  const { hand, drawn, isPainting, loop } = pointer;
  const isEmpty = operations.length === 0;
  const showsBrush = hand !== null && (tool === 'brush' || (tool === 'subject' && dab !== 'loop'));
  const isTakingAway = tool === 'brush' ? brush === 'erase' : dab === 'not-this';
  return (
    <>
      <Layer ref={veil.layer} listening={false} imageSmoothingEnabled>
        {veil.isReady && view !== 'picture' && !(isEmpty && view === 'tracing' && !isPainting) && (
          <KonvaImage
            image={veil.canvas}
            x={placement.x}
            y={placement.y}
            width={frame.width * placement.scale}
            height={frame.height * placement.scale}
          />
        )}
        {loop.length > 2 && <LoopLine placement={placement} loop={loop} />}
        {showsBrush && <BrushRing placement={placement} at={hand} sizePx={sizePx} isDashed={isTakingAway} />}
      </Layer>
      {view !== 'picture' && <OtherMasks frame={frame} placement={placement} plans={others} />}
      {tool === 'shapes' && <ShapeLayer placement={placement} shape={drawn ?? selectedShape(operations, selected)} />}
      {tool === 'faces' && <FacesLayer placement={placement} faces={chosen} own={null} />}
    </>
  );
}

/** The loop as it is drawn, its ends joined. */
function LoopLine({ placement: { scale, x, y }, loop }: { placement: Placement; loop: readonly number[] }) {
  const points = loop.map((value, i) => (i % 2 === 0 ? x : y) + (value + 0.5) * scale);
  return (
    <>
      <Line points={points} closed stroke="#fff" strokeWidth={3} />
      <Line points={points} closed stroke="#1C1F1E" strokeWidth={1.2} dash={[6, 4]} />
    </>
  );
}

interface BrushRingProps {
  readonly placement: Placement;
  readonly at: { readonly x: number; readonly y: number };
  readonly sizePx: number;
  readonly isDashed: boolean;
}

/** The brush as it would paint: light on dark, so that it shows on any ground. */
function BrushRing({ placement: { scale, x, y }, at, sizePx, isDashed }: BrushRingProps) {
  const ring = { x: x + (at.x + 0.5) * scale, y: y + (at.y + 0.5) * scale, radius: (sizePx / 2) * scale };
  return (
    <>
      <Circle {...ring} stroke="#fff" strokeWidth={2.5} />
      <Circle {...ring} stroke="#1C1F1E" strokeWidth={1} dash={isDashed ? [4, 4] : undefined} />
    </>
  );
}
