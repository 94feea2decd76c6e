import { Layer, Path } from 'react-konva';
import type { MaskPlan } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import type { Placement } from '../surfaces/FrameSurface';
import { useMaskOutline } from '../surfaces/useMaskOutline';

interface OtherMasksProps {
  readonly frame: FrameDetail;
  readonly placement: Placement;
  readonly plans: readonly MaskPlan[];
}

/** Where the masks lie that are not at work: dashed outlines. */
export function OtherMasks({ frame, placement, plans }: OtherMasksProps) {
  return (
    <Layer listening={false}>
      {plans.map(({ mask }) => (
        <Outline key={mask.id} frame={frame} placement={placement} mask={mask} />
      ))}
    </Layer>
  );
}

function Outline({ frame, placement, mask }: Omit<OtherMasksProps, 'plans'> & { mask: MaskPlan['mask'] }) {
  const outline = useMaskOutline(frame, mask.operations);
  if (!outline) return null;
  const lies = {
    data: outline.path,
    x: placement.x,
    y: placement.y,
    scaleX: (frame.width * placement.scale) / outline.width,
    scaleY: (frame.height * placement.scale) / outline.height,
    strokeScaleEnabled: false,
  };
  return (
    <>
      <Path {...lies} stroke="#1C1F1E" strokeWidth={2.5} />
      <Path {...lies} stroke="#fff" strokeWidth={1.25} dash={[5, 4]} />
    </>
  );
}
