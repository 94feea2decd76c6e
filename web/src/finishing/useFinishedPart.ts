import { useEffect, useRef, useState } from 'react';
import type { Prescription, Region } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from '../surfaces/tileEngine';

interface Part {
  readonly bitmap: ImageBitmap | null;
  readonly isComing: boolean;
  readonly failure: string | null;
}

interface Wish {
  readonly prescription: Prescription;
  readonly region: Region;
}

/** A part of the finished picture px for px; of what was wanted while one is made only the last is made next. */
export function useFinishedPart(frame: WorkerFrame, wish: Wish | null): Part {
  const [shown, setShown] = useState<Part>({ bitmap: null, isComing: false, failure: null });
  const next = useRef<Wish | null>(null);
  const isBusy = useRef(false);
  const { prescription, region } = wish ?? { prescription: null, region: null };
  const { x, y, width, height } = region ?? { x: 0, y: 0, width: 0, height: 0 };
  useEffect(() => {
    if (!prescription || width === 0 || height === 0) return;
    next.current = { prescription, region: { x, y, width, height } };
    setShown((old) => ({ ...old, isComing: true }));
    const makeAll = async () => {
      if (isBusy.current) return;
      isBusy.current = true;
      while (next.current) {
        const job = { frame, ...next.current };
        next.current = null;
        try {
          const bitmap = await tileEngine.light.showFinished(job);
          setShown({ bitmap, isComing: next.current !== null, failure: null });
        } catch (error) {
          setShown({ bitmap: null, isComing: false, failure: (error as Error).message });
        }
      }
      isBusy.current = false;
    };
    void makeAll();
  }, [frame, prescription, x, y, width, height]);
  return shown;
}
