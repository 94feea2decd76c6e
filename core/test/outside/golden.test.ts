import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';

/** Every number of a nested value, in order, with where it stands. */
function* numbersIn(value: unknown, path = ''): Generator<[string, number]> {
  if (typeof value === 'number') yield [path, value];
  else if (typeof value === 'object' && value !== null)
    for (const [key, inner] of Object.entries(value)) yield* numbersIn(inner, `${path}/${key}`);
}

it.each([
  ['make.py', 'skimage.json'],
  ['makeOutside.py', 'outside.json'],
])('what %s makes is what %s holds', (script, name) => {
  const folder = mkdtempSync(join(tmpdir(), 'vitrocept-golden-'));
  const golden = new URL('../../golden/', import.meta.url).pathname;
  const made = join(folder, name);
  const { status, stderr } = spawnSync('/usr/bin/python3', [join(golden, script), made], { encoding: 'utf8' });
  expect(status, stderr).toBe(0);
  const [now, then] = [made, join(golden, name)].map((path) => [...numbersIn(JSON.parse(readFileSync(path, 'utf8')))]);
  rmSync(folder, { recursive: true });
  expect(now.length).toBe(then.length);
  let worst = { path: '', apart: 0 };
  now.forEach(([path, value], i) => {
    expect(path).toBe(then[i][0]);
    const apart = Math.abs(value - then[i][1]);
    if (apart > worst.apart) worst = { path, apart };
  });
  // The last digit kept may fall either way between versions of a library.
  expect(worst.apart, worst.path).toBeLessThan(2e-4);
});
