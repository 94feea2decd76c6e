import { useEffect, useRef, useState } from 'react';

export interface Latest<T> {
  readonly value: T | null;
  /** Something newer is on its way. */
  readonly isComing: boolean;
  readonly failure: string | null;
}

/**
 * What `make` gives for a job, made anew whenever the job changes: one at a time, and of those that were wanted meanwhile
 * only the last. Null: nothing is made.
 *
 * @param job - Must keep its identity as long as it means the same.
 */
export function useLatest<J, T>(job: J | null, make: (job: J) => Promise<T>): Latest<T> {
  const [shown, setShown] = useState<Latest<T>>({ value: null, isComing: false, failure: null });
  const next = useRef<J | null>(null);
  const isBusy = useRef(false);
  const maker = useRef(make);
  useEffect(() => {
    maker.current = make;
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
        try {
          const value = await maker.current(own);
          setShown({ value, isComing: next.current !== null, failure: null });
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
