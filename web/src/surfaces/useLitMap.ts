import { useMemo } from 'react';
import type { WorkerFrame } from '@vitrocept/workers';
import { useShownLight } from './useShownLight';

/** Long side at which the map is drawn with its corrections, px. */
const SIDE = 1024;

/** The frame with its corrections as the address of a picture, for the Overview; null where it is shown as taken. */
export function useLitMap(frame: WorkerFrame): string | null {
  const bitmap = useShownLight(frame, undefined, SIDE);
  return useMemo(() => {
    if (!bitmap) return null;
    const canvas = document.createElement('canvas');
    canvas.width = bitmap.width;
    canvas.height = bitmap.height;
    canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
    return canvas.toDataURL('image/jpeg', 0.9);
  }, [bitmap]);
}
