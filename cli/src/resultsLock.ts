import { closeSync, mkdirSync, openSync, readdirSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { UsageError } from './usage';

const LOCK = '.vitrocept-round.lock';
/** Results that a killed round had not given their names yet. */
const UNFINISHED = /^\.vitrocept-[0-9a-f-]{36}\.part$/;

/**
 * Takes a folder of results for this process, and clears away what one that was killed left behind. Returns how to give
 * it back.
 *
 * @throws UsageError where another round works in it.
 */
export function lockResults(out: string): () => void {
  mkdirSync(out, { recursive: true });
  const place = join(out, LOCK);
  for (let isTried = false; ; isTried = true) {
    try {
      const file = openSync(place, 'wx');
      writeSync(file, String(process.pid));
      closeSync(file);
      break;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
      const owner = Number(readFileSync(place, 'utf8'));
      if (isTried || isRunning(owner)) {
        throw new UsageError(
          `Another round (process ${owner}) works in this folder of results. Wait until it is through.`,
        );
      }
      rmSync(place, { force: true });
    }
  }
  for (const name of readdirSync(out)) if (UNFINISHED.test(name)) rmSync(join(out, name), { force: true });
  return () => rmSync(place, { force: true });
}

export function isRunning(pid: number): boolean {
  if (!(pid > 0)) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}
