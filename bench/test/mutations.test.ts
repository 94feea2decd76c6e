import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect, it } from 'vitest';
import { ROOT } from '../src/root';

interface Mutation {
  readonly file: string;
  readonly from: string;
  readonly tests: readonly string[];
}

it('every fault that is put in on purpose still has its one place in the code, and its tests', async () => {
  const list = pathToFileURL(join(ROOT, 'mutations', 'list.mjs')).href;
  const { MUTATIONS } = (await import(list)) as { MUTATIONS: readonly Mutation[] };
  expect(MUTATIONS.length).toBeGreaterThan(100);
  const stale = MUTATIONS.filter(
    ({ file, from, tests }) =>
      readFileSync(join(ROOT, file), 'utf8').split(from).length !== 2 ||
      tests.some((test) => !existsSync(join(ROOT, test))),
  );
  expect(stale).toEqual([]);
});
