import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { PILES, type Pile } from '@vitrocept/core';
import type { FrameChange, SheetFrame, ShootDetail } from '@vitrocept/server';
import { send } from '../api/client';
import { PILE_NAMES } from '../words';
import { heapOf } from './sheetFrame';

/** What was done to frames, in words, and how it is undone. */
interface Done {
  readonly sentence: string;
  readonly undo: readonly FrameChange[];
}

export interface Sorting {
  /** The last thing done or that failed; null at first. */
  readonly said: string | null;
  readonly canUndo: boolean;
  putInto(frames: readonly SheetFrame[], pile: Pile): void;
  remove(frames: readonly SheetFrame[]): void;
  move(frames: readonly SheetFrame[], shoot: { readonly id: string; readonly name: string }): void;
  rename(frame: SheetFrame, name: string): void;
  undo(): void;
}

const counted = (frames: readonly SheetFrame[]) => (frames.length === 1 ? frames[0].name : `${frames.length} frames`);

/** Changes of frames by hand: shown at once, sent, and undone one after the other. */
export function useSorting(shootId: string): Sorting {
  const client = useQueryClient();
  const [said, setSaid] = useState<string | null>(null);
  const [done, setDone] = useState<readonly Done[]>([]);
  /** Those that are being undone; again to be had where that fails. */
  const undoing = useRef(new Set<Done>());
  const sending = useRef<Promise<unknown>>(Promise.resolve());

  function perform(changes: readonly FrameChange[], onDone: () => void, onFailed?: () => void): void {
    client.setQueryData<ShootDetail>(['shoot', shootId], (shoot) => shoot && changedShoot(shoot, shootId, changes));
    // One after the other: a change and its undoing must not overtake each other.
    sending.current = sending.current.then(async () => {
      try {
        await send('PATCH', '/api/frames', { changes });
        onDone();
      } catch (error) {
        onFailed?.();
        setSaid((error as Error).message);
        await client.invalidateQueries({ queryKey: ['shoot', shootId] });
      }
    });
  }
  function act(frames: readonly SheetFrame[], sentence: string, change: Omit<FrameChange, 'id'>) {
    if (frames.length === 0) return;
    const undo = frames.map((frame) => ({ id: frame.id, ...before(frame, change, shootId) }));
    perform(
      frames.map(({ id }) => ({ id, ...change })),
      () => {
        setSaid(sentence);
        setDone((all) => [...all, { sentence, undo }]);
      },
    );
  }
  return {
    said,
    canUndo: done.length > 0,
    putInto: (frames, pile) =>
      act(frames, `${counted(frames)} put into “${PILE_NAMES[pile]}” by hand.`, { pileByHand: pile }),
    remove: (frames) => act(frames, `${counted(frames)} moved to the trash.`, { isRemoved: true }),
    move: (frames, shoot) => act(frames, `${counted(frames)} moved to “${shoot.name}”.`, { shootId: shoot.id }),
    rename: (frame, name) => act([frame], `${frame.name} is called ${name} now.`, { name }),
    undo() {
      const last = done.filter((one) => !undoing.current.has(one)).at(-1);
      if (!last) return;
      undoing.current.add(last);
      perform(
        last.undo,
        () => {
          setDone((all) => all.filter((one) => one !== last));
          setSaid(`Undone: ${last.sentence}`);
          void client.invalidateQueries({ queryKey: ['shoot', shootId] });
        },
        () => undoing.current.delete(last),
      );
    },
  };
}

/** The same fields as they were. */
function before(frame: SheetFrame, change: Omit<FrameChange, 'id'>, shootId: string): Omit<FrameChange, 'id'> {
  return {
    ...('pileByHand' in change ? { pileByHand: frame.pileByHand } : {}),
    ...('isRemoved' in change ? { isRemoved: false } : {}),
    ...('shootId' in change ? { shootId } : {}),
    ...('name' in change ? { name: frame.name } : {}),
  };
}

/** The sheet with the changes, before the server has answered. */
export function changedShoot(shoot: ShootDetail, shootId: string, changes: readonly FrameChange[]): ShootDetail {
  const byId = new Map(changes.map((change) => [change.id, change]));
  const frames = shoot.frames.flatMap((frame) => {
    const change = byId.get(frame.id);
    if (!change) return [frame];
    if (change.isRemoved || (change.shootId !== undefined && change.shootId !== shootId)) return [];
    return [
      {
        ...frame,
        name: change.name ?? frame.name,
        pileByHand: change.pileByHand === undefined ? frame.pileByHand : change.pileByHand,
      },
    ];
  });
  const piles = Object.fromEntries(
    [...PILES, 'unread' as const].map((heap) => [heap, frames.filter((frame) => heapOf(frame) === heap).length]),
  ) as ShootDetail['piles'];
  return { ...shoot, frames, piles, frameCount: frames.length };
}
