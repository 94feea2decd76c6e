import { useEffect, useRef, useState } from 'react';

export interface Latest<T> {
  readonly value: T | null;
  /** Something newer is on its way. */
  readonly isComing: boolean;
  readonly failure: string | null;
}

/**
 * What `make` gives for a job, made anew whenever the job changes: one at a time, and of those that were wanted
 * meanwhile only the last. Null: nothing is made.
 *
 * @param job - Must keep its identity as long as it means the same.
 * @param rough - Makes a draft, shown until the whole is made; where something newer is wanted by then, the whole never
 * is.
 */
export function useLatest<J, T>(
  job: J | null,
  make: (job: J) => Promise<T>,
  rough?: (job: J) => Promise<T>,
): Latest<T> {
  const [shown, setShown] = useState<Latest<T>>({ value: null, isComing: false, failure: null });
  const next = useRef<J | null>(null);
  const isBusy = useRef(false);
  const wanted = useRef<J | null>(null);
  const makers = useRef([make]);
  useEffect(() => {
    makers.current = rough ? [rough, make] : [make];
    wanted.current = job;
  });
  useEffect(() => {
    next.current = job;
    if (job === null) return;
    setShown((old) => ({ ...old, isComing: true }));
    const makeAll = async () => {
      if (isBusy.current) return;
      isBusy.current = true;
      while (next.current !== null) {
        const own = next.current;
        next.current = null;
        const steps = makers.current;
        try {
          for (const [step, makeOne] of steps.entries()) {
            const value = await makeOne(own);
            const isWhole = step === steps.length - 1;
            setShown({ value, isComing: !isWhole || next.current !== null, failure: null });
            if (wanted.current !== own) break;
          }
        } catch (error) {
          setShown({ value: null, isComing: next.current !== null, failure: (error as Error).message });
        }
      }
      isBusy.current = false;
    };
    void makeAll();
  }, [job]);
  return shown;
}
