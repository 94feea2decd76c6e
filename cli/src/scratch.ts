import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isRunning } from './resultsLock';

const NAME = /^vitrocept-round-(\d+)-/;

/** A folder for what is only needed meanwhile; those of processes that were killed are cleared away. */
export function makeScratch(): string {
  for (const name of readdirSync(tmpdir())) {
    const owner = NAME.exec(name)?.[1];
    if (owner && !isRunning(Number(owner))) rmSync(join(tmpdir(), name), { recursive: true, force: true });
  }
  return mkdtempSync(join(tmpdir(), `vitrocept-round-${process.pid}-`));
}

/** What is done where somebody presses Ctrl-C or the process is told to end; returns how to forget it again. */
export function whenEnded(act: () => void): () => void {
  const end = (signal: NodeJS.Signals) => {
    act();
    process.exit(signal === 'SIGINT' ? 130 : 143);
  };
  process.on('SIGINT', end).on('SIGTERM', end);
  return () => void process.off('SIGINT', end).off('SIGTERM', end);
}
