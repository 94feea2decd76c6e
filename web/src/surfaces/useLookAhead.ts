import { useEffect } from 'react';
import type { WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from './tileEngine';

/** While the person looks at the frame its subject is looked for, so that it is there sooner when it is asked for. */
export function useLookAhead(frame: WorkerFrame, isWanted = true): void {
  useEffect(() => {
    if (isWanted) void tileEngine.lookAhead(frame).catch(() => undefined);
  }, [frame, isWanted]);
}
