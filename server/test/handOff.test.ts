import { existsSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { appendFile, mkdir, readdir, rename, rm, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { STARTER_PRESCRIPTIONS } from '@vitrocept/core';
import type { HandOffDetail } from '../src/routes/handOffs';
import { newShoot, openHarness, own, smallPng, type Harness } from './harness';

const [QUIET_MS, PATIENCE_MS] = [150, 3000];
let harness: Harness;
let shootId: string;
let made: HandOffDetail;
const ask = (method: 'GET' | 'POST' | 'PUT' | 'DELETE', url: string, payload?: object) =>
  harness.app.inject({ method, url, headers: own, payload });
const now = async () => ((await ask('GET', '/api/hand-offs')).json() as HandOffDetail[])[0];
const names = async () =>
  ((await ask('GET', `/api/shoots/${shootId}`)).json().frames as { name: string }[]).map(({ name }) => name);
async function until(isSo: () => Promise<boolean> | boolean): Promise<void> {
  while (!(await isSo())) await new Promise((resolve) => setTimeout(resolve, 50));
}

beforeAll(async () => {
  harness = await openHarness(undefined, [QUIET_MS, PATIENCE_MS]);
  shootId = await newShoot(harness.app, 'Tethered');
  const wish = { folder: 'Reeds', shootId, keptId: null, format: 'png8' };
  made = (await ask('POST', '/api/hand-offs', wish)).json() as HandOffDetail;
});
afterAll(() => harness.close());

it('a folder is made with its inbox, and not twice nor elsewhere', async () => {
  expect(existsSync(made.inbox)).toBe(true);
  expect(made).toMatchObject({ shootName: 'Tethered', keptName: null, files: [] });
  const wish = { folder: 'reeds', shootId, keptId: null, format: 'png8' };
  expect((await ask('POST', '/api/hand-offs', wish)).statusCode).toBe(409);
  for (const folder of ['../out', 'a/b', '.hidden', ' ', '', ' ..', ' .h', '.. ']) {
    expect((await ask('POST', '/api/hand-offs', { ...wish, folder })).statusCode).toBe(400);
  }
});

it('a file laid into it becomes a frame of the shoot and is moved out of the way', async () => {
  await writeFile(join(made.inbox, 'heron.png'), await smallPng(31));
  await until(async () => (await names()).includes('heron.png'));
  await harness.services.handOffs.idle();
  expect(await readdir(join(made.inbox, 'taken'))).toEqual(['heron.png']);
  expect((await now()).files).toMatchObject([{ name: 'heron.png', error: null }]);
});

it('one that is still being written is waited for, however long it pauses', async () => {
  const bytes = await smallPng(32);
  const path = join(made.inbox, 'slow.png');
  await writeFile(path, bytes.subarray(0, 5000));
  // Longer than a file must be quiet: it was looked at, and was no whole picture.
  await new Promise((resolve) => setTimeout(resolve, 3 * QUIET_MS));
  expect(await names()).not.toContain('slow.png');
  await appendFile(path, bytes.subarray(5000));
  await until(async () => (await names()).includes('slow.png'));
  await harness.services.handOffs.idle();
  expect((await now()).files.filter(({ error }) => error !== null)).toEqual([]);
});

it('under a name of what is not finished it is left alone until it is renamed', async () => {
  const part = join(made.inbox, 'later.png.part');
  await writeFile(part, await smallPng(33));
  await new Promise((resolve) => setTimeout(resolve, 4 * QUIET_MS));
  expect(existsSync(part)).toBe(true);
  await rename(part, join(made.inbox, 'later.png'));
  await until(async () => (await names()).includes('later.png'));
});

it('what is no picture is refused by its reason and kept', async () => {
  await writeFile(join(made.inbox, 'letter.jpg'), 'Dear photographer');
  await until(async () => (await now()).files.some(({ name }) => name === 'letter.jpg'));
  expect((await now()).files[0]).toMatchObject({ name: 'letter.jpg', frameId: null });
  expect((await now()).files[0].error).toMatch(/\.$/);
  expect(await readdir(join(made.inbox, 'refused'))).toEqual(['letter.jpg']);
  expect(await names()).not.toContain('letter.jpg');
});

it('a pipe and a link are refused, and nobody waits for them', async () => {
  const pipe = join(made.inbox, 'pipe.png');
  execFileSync('mkfifo', [pipe]);
  await symlink(join(made.inbox, 'taken', 'heron.png'), join(made.inbox, 'linked.png'));
  await until(async () => (await now()).files.filter(({ name }) => /^(pipe|linked)/.test(name)).length === 2);
  expect((await now()).files.filter(({ error }) => error?.includes('a pipe'))).toHaveLength(2);
  expect((await readdir(join(made.inbox, 'refused'))).sort()).toEqual(['letter.jpg', 'linked.png', 'pipe.png']);
  await writeFile(join(made.inbox, 'after.png'), await smallPng(34));
  await until(async () => (await names()).includes('after.png'));
});

it('a folder that was deleted and made anew is watched again', async () => {
  await harness.services.handOffs.idle();
  await rm(made.inbox, { recursive: true });
  await new Promise((resolve) => setTimeout(resolve, 2 * QUIET_MS));
  await mkdir(made.inbox);
  await new Promise((resolve) => setTimeout(resolve, 2 * QUIET_MS));
  await writeFile(join(made.inbox, 'again.png'), await smallPng(35));
  await until(async () => (await names()).includes('again.png'));
});

it('a name that is no UTF-8 is mended', async () => {
  await writeFile(
    Buffer.concat([Buffer.from(`${made.inbox}/t`), Buffer.from([0xfc]), Buffer.from('r.png')]),
    await smallPng(36),
  );
  await until(async () => (await names()).includes('t_r.png'));
});

it('a file under which the process ended twice is set aside', async () => {
  harness.services.stores.notes.set('taking in Reeds/crash.png', '2');
  await writeFile(join(made.inbox, 'crash.png'), await smallPng(37));
  await until(async () => (await now()).files.some(({ name }) => name === 'crash.png'));
  expect((await now()).files.find(({ name }) => name === 'crash.png')!.error).toContain('ended twice');
  expect(await names()).not.toContain('crash.png');
  await harness.services.handOffs.idle();
});

it('with a kept prescription each is recovered by itself into the folder of results, in one round that grows', async () => {
  const { stores, rounds } = harness.services;
  const clean = stores.kept.all().find(({ kept }) => kept.ways.recovery === 'left-out')!;
  expect(STARTER_PRESCRIPTIONS.map(({ name }) => name)).toContain(clean.kept.name);
  await ask('PUT', `/api/hand-offs/${made.id}`, { shootId, keptId: clean.id, format: 'png8' });
  for (const [name, seed] of [
    ['one.png', 41],
    ['two.png', 42],
  ] as const) {
    await writeFile(join(made.inbox, name), await smallPng(seed));
    await until(async () => (await names()).includes(name));
    await harness.services.handOffs.idle();
    await rounds.idle();
  }
  expect((await readdir(made.results)).sort()).toEqual(['one-Clean only.png', 'two-Clean only.png']);
  const { roundId } = await now();
  expect(stores.rounds.all()).toHaveLength(1);
  expect(stores.rounds.jobsOf(roundId!).map(({ state }) => state)).toEqual(['done', 'done']);
  // Stopped by a person, it stays so: what comes later is recovered all the same.
  stores.rounds.setState(roundId!, 'stopped');
  await writeFile(join(made.inbox, 'three.png'), await smallPng(43));
  await until(async () => (await names()).includes('three.png'));
  await harness.services.handOffs.idle();
  await rounds.idle();
  expect(await readdir(made.results)).toContain('three-Clean only.png');
  expect(stores.rounds.get(roundId!)!.state).toBe('stopped');
});

it('what lay there while nobody watched is taken in when somebody does; given up, it is only a folder', async () => {
  await ask('DELETE', `/api/hand-offs/${made.id}`);
  expect((await ask('GET', '/api/hand-offs')).json()).toEqual([]);
  await mkdir(made.inbox, { recursive: true });
  await writeFile(join(made.inbox, 'night.png'), await smallPng(51));
  await new Promise((resolve) => setTimeout(resolve, 4 * QUIET_MS));
  expect(await names()).not.toContain('night.png');
  await ask('POST', '/api/hand-offs', { folder: 'Reeds', shootId, keptId: null, format: 'png8' });
  await until(async () => (await names()).includes('night.png'));
});
