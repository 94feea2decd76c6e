import { useEffect, useState } from 'react';
import { Image as KonvaImage, Layer } from 'react-konva';
import type { FrameDetail } from '../api/queries';
import type { Placement } from '../surfaces/FrameSurface';

const SIDE = 1600;

/** Hatches clipped places: white along /, black along \\. */
export function ClippingLayer({ frame, placement }: { frame: FrameDetail; placement: Placement }) {
  const [hatch, setHatch] = useState<HTMLImageElement | null>(null);
  useEffect(() => {
    let isCurrent = true;
    const picture = new Image();
    picture.src = `/api/frames/${frame.id}/clipping.png?side=${SIDE}`;
    picture
      .decode()
      .then(() => isCurrent && setHatch(picture))
      .catch(() => undefined);
    return () => {
      isCurrent = false;
    };
  }, [frame.id]);
  const { scale, x, y } = placement;
  return (
    <Layer imageSmoothingEnabled={false} listening={false}>
      {hatch && <KonvaImage image={hatch} x={x} y={y} width={frame.width * scale} height={frame.height * scale} />}
    </Layer>
  );
}
