import { useEffect } from 'react';
import { acceptReading, proposeStart } from '@vitrocept/core';
import { send } from '../api/client';
import type { FrameDetail } from '../api/queries';
import { newId } from '../input/newId';
import { useFrameStore } from '../stores/frameStore';
import { PROPOSAL_NAMES } from '../words';

/**
 * A frame that nobody has worked on starts from what the server found when it looked after it: its Reading, and what is
 * proposed. One that was not looked after yet is asked for, before all others.
 */
export function useFirstLook(opened: FrameDetail | null): void {
  const { frame, prescription, begin } = useFrameStore();
  const isUntouched =
    opened !== null && frame?.id === opened.id && prescription !== null && prescription.reading === null;
  const { state, reading, proposal } = opened?.firstReading ?? { state: 'waiting', reading: null, proposal: null };
  useEffect(() => {
    if (!isUntouched || state !== 'done' || !reading) return;
    begin((old) => {
      if (old.reading) return old;
      const isEmpty = old.probes.length === 0 && old.trials.length === 0 && old.mask.operations.length === 0;
      if (!proposal || !isEmpty) return { ...old, reading: acceptReading(reading, { kind: 'centre', key: '' }) };
      const probes = proposal.probes.map(({ kind, x, y }) => ({ name: PROPOSAL_NAMES[kind], x, y }));
      return proposeStart(old, { reading, proposal }, probes, newId);
    });
  }, [isUntouched, state, reading, proposal, begin]);

  const isToCome = isUntouched && (state === 'waiting' || state === 'sorted');
  const id = opened?.id;
  useEffect(() => {
    // Nothing is lost where this fails: the frame is looked after in its turn.
    if (isToCome) void send('POST', `/api/frames/${id}/look-after`, {}).catch(() => undefined);
  }, [isToCome, id]);
}
