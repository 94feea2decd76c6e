import { useRef, useState } from 'react';
import type { AreaWish, CombineMode, Dab } from '@vitrocept/core';
import type { FrameDetail } from '../../api/queries';
import { useFrameStore } from '../../stores/frameStore';
import { tileEngine } from '../../surfaces/tileEngine';
import { added, replacedAt, withOperations, withSubject } from './maskActs';

const SENTENCES: Record<AreaWish['kind'], string> = {
  subject: 'Finding the subject …',
  tone: 'Marking the tone band …',
  focus: 'Marking the focus range …',
  colour: 'Marking the colour …',
  edges: 'Following edges …',
  holes: 'Looking for holes …',
  specks: 'Looking for specks …',
};

/** Areas of the mask that are computed: the last wish counts, one that was overtaken leaves nothing. */
export function useAreas(frame: FrameDetail) {
  const [status, setStatus] = useState<string | null>(null);
  const last = useRef(0);
  /** The dabs of a search that is under way: the next dab joins them. */
  const pending = useRef<readonly Dab[] | null>(null);
  const change = useFrameStore((state) => state.change);

  const make = async (
    wish: AreaWish,
    mode: CombineMode,
    place: (area: Awaited<ReturnType<typeof tileEngine.makeArea>>) => void,
  ) => {
    const own = ++last.current;
    setStatus(SENTENCES[wish.kind]);
    let outcome: string | null = null;
    try {
      const area = await tileEngine.makeArea({ frame, mode, wish });
      if (own !== last.current) return;
      if (useFrameStore.getState().frame?.id === frame.id) place(area);
    } catch (error) {
      outcome = `That failed: ${(error as Error).message}`;
    }
    if (own !== last.current) return;
    pending.current = null;
    setStatus(outcome);
  };

  return {
    status,
    isBusy: status?.endsWith('…') ?? false,
    pending,
    async findSubject(dabs: readonly Dab[]) {
      pending.current = dabs;
      await make({ kind: 'subject', dabs }, 'add', (area) =>
        change((old) => withOperations(old, (list) => withSubject(list, area))),
      );
    },
    /** Adds an area; `then` learns where it stands in the list. */
    async add(wish: AreaWish, mode: CombineMode, then?: (at: number) => void) {
      await make(wish, mode, (area) => {
        then?.(useFrameStore.getState().prescription!.mask.operations.length);
        change(added(area));
      });
    },
    async replace(at: number, wish: AreaWish, mode: CombineMode) {
      await make(wish, mode, (area) => change(replacedAt(at, area), `area ${at}`));
    },
  };
}

export type Areas = ReturnType<typeof useAreas>;
