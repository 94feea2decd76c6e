import { useMemo } from 'react';
import { isFinished, type Prescription } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { useFrameStore } from '../stores/frameStore';
import { useLightStore } from '../stores/lightStore';
import { USUAL_SIDE } from './useFrameImage';
import { useLitPicture } from './useLitPicture';

/** Sides at which lit pictures are drawn, px: no new one for every step of a zoom. */
const SIDES = [640, 1024, 1440, USUAL_SIDE];

const sideFor = (drawn: number) => SIDES.find((side) => side >= drawn) ?? USUAL_SIDE;

/** Only what belongs to light and colour, for the steps before Finishing. */
export function onlyCorrected(prescription: Prescription): Prescription {
  const { mends: _, finishing: __, ...rest } = prescription;
  return rest;
}

/** The corrections of a frame that is open; null where there are none, or light is switched off. */
export function useCorrected(frame: WorkerFrame): Prescription | null {
  const isLit = useLightStore((state) => state.isLit);
  const own = useFrameStore((state) => (state.frame?.id === frame.id ? state.prescription : null));
  const corrections = own?.corrections;
  return useMemo(() => {
    const whole = useFrameStore.getState().prescription;
    return whole && corrections && isLit ? onlyCorrected(whole) : null;
  }, [corrections, isLit]);
}

/**
 * What a surface shows in place of the frame as taken; null where that is what it shows.
 *
 * @param shows - Undefined: the corrections of the frame that is open; null: as taken.
 */
export function useShownLight(
  frame: WorkerFrame,
  shows: Prescription | null | undefined,
  drawnSide: number,
  marksClipping = false,
): ImageBitmap | null {
  const corrected = useCorrected(frame);
  const wanted = shows === undefined ? corrected : shows;
  const isPlain = !wanted || (!isFinished(wanted) && !marksClipping);
  const { picture } = useLitPicture(
    frame,
    isPlain || drawnSide <= 0 ? null : { prescription: wanted, side: sideFor(drawnSide), marksClipping },
  );
  return picture?.bitmap ?? null;
}
