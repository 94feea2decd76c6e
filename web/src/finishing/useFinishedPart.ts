import { useMemo } from 'react';
import type { Prescription, Region } from '@vitrocept/core';
import type { FinishedJob, WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from '../surfaces/tileEngine';
import { useLatest, type Latest } from '../surfaces/useLatest';

const partOf = (job: FinishedJob) => tileEngine.light.showFinished(job);

/** A part of the finished picture px for px. */
export function useFinishedPart(frame: WorkerFrame, prescription: Prescription, region: Region): Latest<ImageBitmap> {
  const { x, y, width, height } = region;
  const job = useMemo(
    () => (width > 0 && height > 0 ? { frame, prescription, region: { x, y, width, height } } : null),
    [frame, prescription, x, y, width, height],
  );
  return useLatest(job, partOf);
}
