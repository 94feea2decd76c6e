import { useEffect, useMemo, useState } from 'react';
import type { WorkerFrame } from '@vitrocept/workers';
import { useRested } from './useRested';
import { useCorrected, useShownLight } from './useShownLight';

/** Long side at which the map is drawn with its corrections, px. */
const SIDE = 1024;
/** Nobody looks at the map while a slider is moved; the picture itself must not wait for it. */
const REST_MS = 400;

/** The frame with its corrections as the address of a picture, for the Overview; null where it is shown as taken. */
export function useLitMap(frame: WorkerFrame): string | null {
  const corrected = useCorrected(frame);
  const rested = useRested(
    useMemo(() => ({ frameId: frame.id, corrected }), [frame.id, corrected]),
    REST_MS,
  );
  // Another frame’s corrections are never shown on this one.
  const bitmap = useShownLight(frame, rested.frameId === frame.id ? rested.corrected : corrected, SIDE);
  const [shown, setShown] = useState<{ frameId: string; address: string } | null>(null);
  useEffect(() => {
    if (!bitmap) return;
    let isLeft = false;
    const canvas = document.createElement('canvas');
    canvas.width = bitmap.width;
    canvas.height = bitmap.height;
    canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
    canvas.toBlob(
      (blob) => {
        if (blob && !isLeft) setShown({ frameId: frame.id, address: URL.createObjectURL(blob) });
      },
      'image/jpeg',
      0.9,
    );
    return () => {
      isLeft = true;
    };
  }, [bitmap, frame.id]);
  // The one before is let go when the next stands in its place.
  useEffect(() => () => URL.revokeObjectURL(shown?.address ?? ''), [shown]);
  return bitmap && shown?.frameId === frame.id ? shown.address : null;
}
