import type { SheetFrame } from '@vitrocept/server';
import { byHeap, type Heap } from './sheetFrame';

/** A line of the sheet: the head of a pile, or as many frames as fit side by side. */
export type HeapRow =
  { readonly heap: Heap; readonly count: number } | { readonly heap: Heap; readonly frames: readonly SheetFrame[] };

export function heapRows(frames: readonly SheetFrame[], columns: number): HeapRow[] {
  return byHeap(frames).flatMap(({ heap, frames: own }) => [
    { heap, count: own.length },
    ...Array.from({ length: Math.ceil(own.length / columns) }, (_, row) => ({
      heap,
      frames: own.slice(row * columns, (row + 1) * columns),
    })),
  ]);
}

/** The frames as they follow each other on the sheet. */
export const inHeapOrder = (frames: readonly SheetFrame[]): SheetFrame[] => byHeap(frames).flatMap((g) => g.frames);
