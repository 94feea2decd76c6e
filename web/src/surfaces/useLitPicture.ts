import { useEffect, useRef, useState } from 'react';
import type { Prescription } from '@vitrocept/core';
import type { LitPicture, WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from './tileEngine';

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

/**
 * The frame as a view shows it with its light, drawn anew whenever that changes: one drawing at a time, and of those that
 * were wanted meanwhile only the last. Null wish: nothing is drawn.
 */
export function useLitPicture(frame: WorkerFrame, wish: LitWish | null): Lit {
  const [lit, setLit] = useState<Lit & { readonly frameId: string }>();
  const next = useRef<LitWish | null>(null);
  const isBusy = useRef(false);
  const { prescription, side, isFramed = false, marksClipping = false } = wish ?? { prescription: null, side: 0 };

  useEffect(() => {
    if (!prescription) return;
    let isCurrent = true;
    next.current = { prescription, side, isFramed, marksClipping };
    const drawAll = async () => {
      if (isBusy.current) return;
      isBusy.current = true;
      while (next.current) {
        const { prescription: wanted, ...rest } = next.current;
        next.current = null;
        const job = { isFramed: false, marksClipping: false, ...rest, frame, prescription: wanted };
        try {
          const picture = await tileEngine.light.showLight(job);
          setLit({ picture, failure: null, frameId: frame.id });
        } catch (error) {
          if (isCurrent) setLit({ picture: null, failure: (error as Error).message, frameId: frame.id });
        }
      }
      isBusy.current = false;
    };
    void drawAll();
    return () => {
      isCurrent = false;
    };
  }, [frame, prescription, side, isFramed, marksClipping]);
  return wish && lit?.frameId === frame.id ? lit : { picture: null, failure: null };
}
