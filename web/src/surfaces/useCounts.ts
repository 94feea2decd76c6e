import { useEffect, useState } from 'react';
import { unpackCoverage, type AreaWish } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from './tileEngine';

const BINS = 64;

/** How often each tone, or each degree of sharpness, occurs in the frame. */
export function useCounts(frame: WorkerFrame, range: 'tone' | 'focus' | 'colour'): readonly number[] | null {
  const [counts, setCounts] = useState<{ key: string; bins: readonly number[] } | null>(null);
  const key = `${frame.id} ${range}`;
  useEffect(() => {
    if (range === 'colour') return;
    let isCurrent = true;
    // A ramp from 0 to 1 gives the measured value itself as coverage.
    const wish: AreaWish = { kind: range, band: [0, 1, 1.5, 2] };
    void tileEngine
      .makeArea({ frame, mode: 'add', wish })
      .then(({ values, width, height }) => {
        const bins = new Array<number>(BINS).fill(0);
        for (const value of unpackCoverage(values, width, height)?.data ?? []) {
          bins[Math.min(BINS - 1, Math.round(value * (BINS - 1)))]++;
        }
        if (isCurrent) setCounts({ key, bins });
      })
      .catch(() => undefined);
    return () => {
      isCurrent = false;
    };
  }, [frame, range, key]);
  return counts?.key === key ? counts.bins : null;
}
