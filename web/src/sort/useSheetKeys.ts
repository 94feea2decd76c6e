import { useEffect } from 'react';
import type { SheetFrame } from '@vitrocept/server';
import { isPressable, isTyping } from '../input/keys';
import { pileOfKey } from './sheetFrame';
import type { Sorting } from './useSorting';

interface SheetKeys {
  /** What a key means: what is chosen, or the one that is looked at or has the focus. */
  readonly meant: () => readonly SheetFrame[];
  readonly sorting: Sorting;
  readonly go: (by: number) => void;
  readonly toggle: () => void;
  readonly leave: () => void;
  readonly isLarge: boolean;
}

/** Piles by 1 to 4, trash by Delete, undo; in the large look also the way from frame to frame. */
export function useSheetKeys({ meant, sorting, go, toggle, leave, isLarge }: SheetKeys): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (isTyping(event) || event.altKey) return;
      if (event.ctrlKey || event.metaKey) {
        if (event.key.toLowerCase() !== 'z' || event.shiftKey) return;
        event.preventDefault();
        sorting.undo();
        return;
      }
      const pile = pileOfKey(event.key);
      if (pile) {
        sorting.putInto(meant(), pile);
        return;
      }
      if (event.key === 'Delete') {
        sorting.remove(meant());
        return;
      }
      if (!isLarge) return;
      const by = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1, PageUp: -10, PageDown: 10 }[event.key];
      if (by) go(by);
      else if (event.key === 'Escape') leave();
      else if (event.key === ' ' && !isPressable(event)) toggle();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  });
}
