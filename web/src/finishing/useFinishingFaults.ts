import { useEffect, useState } from 'react';
import type { FinishingFault, Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { tileEngine } from '../surfaces/tileEngine';

/** Nothing is judged while a slider is still being moved, ms. */
const QUIET_MS = 500;

/** Which settings of the finishing strengthen halos or grain too far at the probes; none while that is not known. */
export function useFinishingFaults(frame: FrameDetail, prescription: Prescription): readonly FinishingFault[] {
  const [found, setFound] = useState<readonly FinishingFault[]>([]);
  useEffect(() => {
    let isCurrent = true;
    setFound([]);
    const { probes, finishing } = prescription;
    if (!finishing || probes.length === 0) return;
    const waiting = setTimeout(() => {
      const places = probes.map(({ x, y }) => ({ x, y }));
      tileEngine.light
        .judgeFinishing({ frame, prescription, places })
        .then((faults) => isCurrent && setFound(faults))
        .catch(() => undefined);
    }, QUIET_MS);
    return () => {
      isCurrent = false;
      clearTimeout(waiting);
    };
  }, [frame, prescription]);
  return found;
}

/** What a slider says of a fault of its setting. */
export function faultOf(
  faults: readonly FinishingFault[],
  localId: string | null,
  key: string,
): { readonly says: string; readonly lastSafe: number } | null {
  const fault = faults.find((one) => one.localId === localId && one.key === key);
  if (!fault) return null;
  const what = fault.what === 'halo' ? 'halos' : 'grain';
  return { says: `${what}: ${fault.verdict},`, lastSafe: fault.lastSafe };
}
