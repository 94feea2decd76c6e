import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { lockResults } from '../src/resultsLock';
import { makeScratch } from '../src/scratch';

const out = mkdtempSync(join(tmpdir(), 'vitrocept-lock-test-'));
afterAll(() => rmSync(out, { recursive: true }));
/** Of a process that has ended. */
const ended = () => spawnSync(process.execPath, ['-e', '']).pid;

it('one round at a time works in a folder of results; what a killed one left is cleared away', () => {
  const unlock = lockResults(out);
  expect(() => lockResults(out)).toThrow(/Another round \(process \d+\)/);
  unlock();
  expect(readdirSync(out)).toEqual([]);
  writeFileSync(join(out, '.vitrocept-round.lock'), String(ended()));
  writeFileSync(join(out, '.vitrocept-01234567-89ab-cdef-0123-456789abcdef.part'), 'half');
  writeFileSync(join(out, 'theirs.part'), 'theirs');
  lockResults(out)();
  expect(readdirSync(out)).toEqual(['theirs.part']);
});

it('working files of a process that was killed are cleared away, those of one that works are not', () => {
  const left = join(tmpdir(), `vitrocept-round-${ended()}-test`);
  mkdirSync(left);
  const own = [makeScratch(), makeScratch()];
  expect(existsSync(left)).toBe(false);
  for (const place of own) {
    expect(existsSync(place)).toBe(true);
    rmSync(place, { recursive: true });
  }
});
