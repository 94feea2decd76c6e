import { PILES, type Pile } from '@vitrocept/core';
import type { SheetFrame } from '@vitrocept/server';
import { causeSentence, PILE_NAMES } from '../words';

/** The pile a frame lies in: where a person put it, else as measured; null before it was measured. */
export const pileOfFrame = ({ pileByHand, sortedAs }: SheetFrame): Pile | null => pileByHand ?? sortedAs?.pile ?? null;

export const HEAPS = [...PILES, 'unread'] as const;
export type Heap = (typeof HEAPS)[number];

export const heapOf = (frame: SheetFrame): Heap => pileOfFrame(frame) ?? 'unread';
export const HEAP_NAMES: Record<Heap, string> = { ...PILE_NAMES, unread: 'Not measured yet' };

/** The key that puts a frame there by hand. */
export const KEY_OF_PILE: Record<Pile, string> = {
  'good-as-is': '1',
  grainy: '2',
  soft: '3',
  'beyond-recovery': '4',
};
export const pileOfKey = (key: string): Pile | null => PILES.find((pile) => KEY_OF_PILE[pile] === key) ?? null;

/** What is wrong with a frame, as far as a first look tells. */
export function faultSentence({ sortedAs }: SheetFrame): string {
  if (!sortedAs) return '';
  if (sortedAs.pile === 'beyond-recovery') return beyondReason(sortedAs.finestRecoverablePx);
  if (sortedAs.pile === 'soft' && !sortedAs.method) return 'Soft for a reason not told yet';
  return causeSentence(sortedAs.method, sortedAs.blurSizePx, sortedAs.directionDeg);
}

const beyondReason = (finestPx: number) => `Nothing finer than ${finestPx.toFixed(0)} px would come back`;

/** Frames by pile, in the order of the piles. */
export function byHeap(frames: readonly SheetFrame[]): { readonly heap: Heap; readonly frames: SheetFrame[] }[] {
  return HEAPS.map((heap) => ({ heap, frames: frames.filter((frame) => heapOf(frame) === heap) })).filter(
    (group) => group.frames.length > 0,
  );
}
