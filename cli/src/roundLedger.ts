import { createHash } from 'node:crypto';
import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileState, writeAtomically } from '@vitrocept/files';
import type { RoundResult } from './roundOne';

/** In the folder of results: what was done there, so that a round that is begun again goes on. */
export const LEDGER = '.vitrocept-round.json';
const VERSION = 1;

/** One frame that was begun, or done. */
export interface LedgerEntry {
  /** SHA-256 of the original, and of how it was to be recovered and saved. */
  readonly original: string;
  readonly way: string;
  /** Name of the result, which is this round's own to write over until it is done. */
  readonly result: string;
  /** The file that was put under its name, as it was then; null before. */
  readonly wrote?: string | null;
  /** Null: begun. */
  readonly done: (RoundResult & { readonly mtimeMs: number }) | null;
}

/** What a round has done, by the names of the originals. */
export class RoundLedger {
  private readonly entries: Map<string, LedgerEntry>;
  /** What stood there before a frame was begun. */
  private readonly before = new Map<string, LedgerEntry | undefined>();
  private saved: Promise<void> = Promise.resolve();

  constructor(private readonly out: string) {
    this.entries = new Map(Object.entries(read(join(out, LEDGER))));
  }

  /** What was done with the very same original in the very same way, if its result lies there as it was written. */
  doneWith(name: string, original: string, way: string): LedgerEntry | null {
    const entry = this.entries.get(name);
    if (!entry?.done || entry.original !== original || entry.way !== way) return null;
    const found = statSync(join(this.out, entry.result), { throwIfNoEntry: false });
    return found && found.size === entry.done.bytes && found.mtimeMs === entry.done.mtimeMs ? entry : null;
  }

  /** Whether a file among the results was written by this round, and by nobody else since. */
  owns(result: string): boolean {
    const place = join(this.out, result);
    const found = statSync(place, { throwIfNoEntry: false });
    const isAsDone = ({ done }: LedgerEntry) => done?.mtimeMs === found?.mtimeMs && done?.bytes === found?.size;
    return [...this.entries.values()].some(
      (entry) => entry.result === result && (entry.done ? isAsDone(entry) : (entry.wrote ?? '') === fileState(place)),
    );
  }

  /** Before a whole file is given its name: were the process ended in between, it is known for ours. */
  writes(name: string, whole: string): Promise<void> {
    this.entries.set(name, { ...this.entries.get(name)!, wrote: fileState(whole) });
    return this.save();
  }

  /** Before anything is written under its name. */
  begin(name: string, entry: Omit<LedgerEntry, 'done' | 'wrote'>): Promise<void> {
    this.before.set(name, this.entries.get(name));
    this.entries.set(name, { ...entry, done: null });
    return this.save();
  }

  /** Nothing was written: what lies under its name later is somebody else's. */
  gaveUp(name: string): Promise<void> {
    const before = this.before.get(name);
    if (before) this.entries.set(name, before);
    else this.entries.delete(name);
    return this.save();
  }

  done(name: string, result: RoundResult): Promise<void> {
    const entry = this.entries.get(name)!;
    const { mtimeMs } = statSync(join(this.out, entry.result));
    this.entries.set(name, { ...entry, done: { ...result, mtimeMs } });
    return this.save();
  }

  /** One after the other: an older state must not come to lie over a newer one. */
  private save(): Promise<void> {
    this.saved = this.saved
      .catch(() => undefined)
      .then(() => {
        const body = { version: VERSION, frames: Object.fromEntries(this.entries) };
        return writeAtomically(join(this.out, LEDGER), Buffer.from(JSON.stringify(body, null, 1)));
      });
    return this.saved;
  }
}

function read(path: string): Record<string, LedgerEntry> {
  if (!existsSync(path)) return {};
  try {
    const { version, frames } = JSON.parse(readFileSync(path, 'utf8')) as {
      version: number;
      frames: Record<string, LedgerEntry>;
    };
    return version === VERSION ? frames : {};
  } catch {
    // Damaged: nothing is believed to be this round's own, so nothing is written over.
    return {};
  }
}

export const hashOf = (value: Uint8Array | string): string => createHash('sha256').update(value).digest('hex');
