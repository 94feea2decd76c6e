import { STARTER_PRESCRIPTIONS } from '@vitrocept/core';
import type { Stores } from '../db/stores';

const NOTE = 'starters kept';

/** Kept prescriptions for ordinary needs are there at first start, and never again once they were removed. */
export function keepStarters({ kept, notes }: Stores): void {
  if (notes.get(NOTE)) return;
  for (const starter of STARTER_PRESCRIPTIONS) kept.add(starter);
  notes.set(NOTE, 'yes');
}
