import { useRef, useState } from 'react';
import {
  added,
  replacedAt,
  underLocal,
  withOperations,
  withSubject,
  type AreaOperation,
  type AreaWish,
  type CombineMode,
  type Dab,
} from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useFrameStore, type Act } from '../stores/frameStore';
import { useLightStore } from '../stores/lightStore';
import { tileEngine } from '../surfaces/tileEngine';
import { useLookAhead } from '../surfaces/useLookAhead';
import { maskInHand } from './useMaskChange';

const SENTENCES: Record<AreaWish['kind'], string> = {
  subject: 'Finding the subject …',
  tone: 'Marking the tone band …',
  focus: 'Marking the focus range …',
  colour: 'Marking the colour …',
  edges: 'Following edges …',
  holes: 'Looking for holes …',
  specks: 'Looking for specks …',
};

/**
 * Areas of the mask that are computed. A search for the subject or an adjustment that was overtaken leaves nothing;
 * what is added is never lost. Each goes to the mask that was at work when it was asked for.
 */
export function useAreas(frame: FrameDetail) {
  const [status, setStatus] = useState<string | null>(null);
  const last = useRef(0);
  /** Of each kind that can be overtaken, the newest. */
  const newest = useRef({ subject: 0, adjust: 0 });
  /** The dabs of a search that is under way: the next dab joins them. */
  const pending = useRef<readonly Dab[] | null>(null);
  const pendingLoop = useRef<readonly number[] | undefined>(undefined);
  const { changeIn } = useFrameStore();
  /** Whose mask it goes to is settled when it is asked for. */
  const changeUnder = (localId: string | null) => (act: Act, merge?: string) =>
    changeIn(frame.id, (old) => underLocal(old, localId, act), merge);
  useLookAhead(frame);

  const make = async (
    wish: AreaWish,
    mode: CombineMode,
    lane: 'subject' | 'adjust' | null,
    place: (area: AreaOperation, maskId: string, change: (act: Act, merge?: string) => void) => void,
  ) => {
    const own = ++last.current;
    if (lane) newest.current[lane] = own;
    const isOvertaken = () => lane !== null && newest.current[lane] !== own;
    const maskId = maskInHand().id;
    const change = changeUnder(useLightStore.getState().localId);
    setStatus(SENTENCES[wish.kind]);
    let outcome: string | null = null;
    try {
      const area = await tileEngine.makeArea({ frame, mode, wish });
      if (isOvertaken()) return;
      place(area, maskId, change);
    } catch (error) {
      outcome = `That failed: ${(error as Error).message}`;
    }
    if (isOvertaken()) return;
    if (lane === 'subject') pending.current = null;
    if (own === last.current) setStatus(outcome);
  };

  return {
    status,
    isBusy: status?.endsWith('…') ?? false,
    tell: setStatus,
    pending,
    pendingLoop,
    /** @param only - A loop: nothing but what lies in it is meant. */
    async findSubject(dabs: readonly Dab[], only?: readonly number[]) {
      pending.current = dabs;
      pendingLoop.current = only;
      await make({ kind: 'subject', dabs, ...(only ? { only } : {}) }, 'add', 'subject', (area, maskId, change) =>
        change((old) => withOperations(old, (list) => withSubject(list, area), maskId)),
      );
    },
    /** Adds an area; `then` learns where it stands in the list of the mask at work. */
    async add(wish: AreaWish, mode: CombineMode, then?: (at: number) => void) {
      await make(wish, mode, null, (area, maskId, change) => {
        const mask = maskInHand();
        if (useFrameStore.getState().frame?.id === frame.id && mask.id === maskId) then?.(mask.operations.length);
        change(added(area, maskId));
      });
    },
    async replace(at: number, wish: AreaWish, mode: CombineMode) {
      await make(wish, mode, 'adjust', (area, maskId, change) =>
        change(replacedAt(at, area, maskId), `area ${maskId} ${at}`),
      );
    },
  };
}

export type Areas = ReturnType<typeof useAreas>;
