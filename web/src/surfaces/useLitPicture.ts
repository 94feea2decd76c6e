import { useMemo } from 'react';
import type { Prescription } from '@vitrocept/core';
import type { LightJob, LitPicture, WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from './tileEngine';
import { useLatest } from './useLatest';

interface LitWish {
  readonly prescription: Prescription;
  readonly side: number;
  readonly isFramed?: boolean;
  readonly marksClipping?: boolean;
}

interface Lit {
  readonly picture: LitPicture | null;
  readonly failure: string | null;
}

/** With the frame it is of: an answer that took its time is never shown on another. */
const litOf = async (job: LightJob) => ({
  frameId: job.frame.id,
  picture: await tileEngine.light.showLight(job),
});

/** What is smaller is drawn at once. */
const LEAST_DRAFTED_SIDE = 600;

/** At half the size: a slider that is still moved does not wait for more. */
const draftOf = (job: LightJob) => litOf({ ...job, isDraft: true });

/** The frame as a view shows it with its light, drawn anew whenever that changes. Null wish: nothing is drawn. */
export function useLitPicture(frame: WorkerFrame, wish: LitWish | null): Lit {
  const { prescription, side, isFramed = false, marksClipping = false } = wish ?? { prescription: null, side: 0 };
  const job = useMemo(
    () => prescription && { frame, prescription, side, isFramed, marksClipping, isDraft: false },
    [frame, prescription, side, isFramed, marksClipping],
  );
  const { value, failure } = useLatest(job, litOf, side >= LEAST_DRAFTED_SIDE ? draftOf : undefined);
  return wish ? { picture: value?.frameId === frame.id ? value.picture : null, failure } : NOTHING;
}

const NOTHING: Lit = { picture: null, failure: null };
