import { useEffect, useState } from 'react';

/** The value once it has not changed for so long; before, the one that rested last. */
export function useRested<T>(value: T, restMs: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), restMs);
    return () => clearTimeout(timer);
  }, [value, restMs]);
  return rested;
}
