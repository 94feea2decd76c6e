import { existsSync } from 'node:fs';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { SheetFrame } from '../src/db/sheets';
import { NO_EXPOSURE } from '@vitrocept/files';
import { newShoot, openHarness, own, smallPng, upload, type Harness } from './harness';

let harness: Harness;
let shootId: string;
let ids: string[];
const get = (url: string) => harness.app.inject({ url, headers: own });
const change = (changes: readonly object[]) =>
  harness.app.inject({ method: 'PATCH', url: '/api/frames', headers: own, payload: { changes } });
const patchShoot = (id: string, payload: object) =>
  harness.app.inject({ method: 'PATCH', url: `/api/shoots/${id}`, headers: own, payload });
const framesOf = async (id: string) => (await get(`/api/shoots/${id}`)).json().frames as SheetFrame[];
const namesOf = async (id: string) => (await framesOf(id)).map(({ name }) => name);

beforeAll(async () => {
  harness = await openHarness();
  shootId = await newShoot(harness.app, 'Reed bed');
  ids = [];
  for (const seed of [1, 2, 3]) {
    ids.push((await upload(harness.app, shootId, `frame-${seed}.png`, await smallPng(seed))).json().id);
  }
  await harness.services.readings.idle();
});
afterAll(() => harness.close());

describe('frames of a sheet', () => {
  it('come with what a first look told: pile, size, noise and a place on the subject', async () => {
    for (const frame of await framesOf(shootId)) {
      expect(frame.state).toBe('sorted');
      expect(frame.sortedAs!.noisePercent).toBeGreaterThan(0);
      expect(frame.sortedAs!.place!.x).toBeLessThan(frame.width);
      const { firstReading } = (await get(`/api/frames/${frame.id}`)).json();
      expect(frame.sortedAs!.pile).toBe(firstReading.reading.pile);
      expect(frame.sortedAs!.noisePercent).toBe(firstReading.reading.noisePercent);
    }
  });

  it('are looked after only when somebody asks, and keep a place then', async () => {
    const frame = async () => (await framesOf(shootId)).find(({ id }) => id === ids[2])!;
    await harness.app.inject({ method: 'POST', url: `/api/frames/${ids[2]}/look-after`, headers: own, payload: {} });
    await harness.services.readings.idle();
    expect((await frame()).state).toBe('done');
    expect((await frame()).sortedAs!.place).not.toBeNull();
    expect((await framesOf(shootId)).map(({ state }) => state).sort()).toEqual(['done', 'sorted', 'sorted']);
  });

  it('show their subject px for px', async () => {
    const crop = await get(`/api/frames/${ids[0]}/crop.jpg?x=100&y=120&width=232&height=150`);
    expect(crop.statusCode).toBe(200);
    expect(await sharp(crop.rawPayload).metadata()).toMatchObject({ format: 'jpeg', width: 60, height: 40 });
    expect((await get(`/api/frames/${ids[0]}/crop.jpg?x=160&y=0&width=10&height=10`)).statusCode).toBe(400);
  });
});

describe('sorting by hand', () => {
  it('puts frames into a pile over the measured one, and back', async () => {
    const [before] = await framesOf(shootId);
    const pile = before.sortedAs!.pile === 'soft' ? 'grainy' : 'soft';
    expect((await change([{ id: before.id, pileByHand: pile }])).statusCode).toBe(204);
    const shoot = (await get(`/api/shoots/${shootId}`)).json();
    expect(shoot.frames[0]).toMatchObject({ pileByHand: pile, sortedAs: { pile: before.sortedAs!.pile } });
    expect(shoot.piles[pile]).toBeGreaterThan(0);
    await change([{ id: before.id, pileByHand: null }]);
    expect((await framesOf(shootId))[0].pileByHand).toBeNull();
    expect((await change([{ id: before.id, pileByHand: 'splendid' }])).statusCode).toBe(400);
  });

  it('renames, all or none, and never to a path', async () => {
    const unknown = '00000000-0000-0000-0000-000000000000';
    const both = await change([
      { id: ids[0], name: 'heron.png' },
      { id: unknown, name: 'nobody.png' },
    ]);
    expect(both.statusCode).toBe(404);
    expect(await namesOf(shootId)).toContain('frame-1.png');
    await change([{ id: ids[0], name: '../../etc/heron.png' }]);
    expect(await namesOf(shootId)).toContain('heron.png');
    await change([{ id: ids[0], name: 'frame-1.png' }]);
    expect((await change([{ id: ids[0], name: '  ' }])).statusCode).toBe(400);
  });

  it('moves to another shoot, and says what lies in both', async () => {
    const other = await newShoot(harness.app, 'Hide');
    const twin = (await upload(harness.app, other, 'again.png', await smallPng(1))).json().id as string;
    expect((await framesOf(shootId)).find(({ id }) => id === ids[0])!.alsoIn).toEqual(['Hide']);
    const refused = await change([{ id: ids[0], shootId: other }]);
    expect(refused.statusCode).toBe(409);
    expect(refused.json().error).toMatch(/holds the same file already, as again\.png/);
    expect((await change([{ id: ids[1], shootId: other }])).statusCode).toBe(204);
    expect(await namesOf(other)).toEqual(['again.png', 'frame-2.png']);
    await change([{ id: ids[1], shootId }]);
    await change([{ id: twin, isRemoved: true }]);
    expect((await framesOf(shootId)).find(({ id }) => id === ids[0])!.alsoIn).toEqual([]);
    expect((await change([{ id: ids[0], shootId: other }])).json().error).toMatch(/in the trash/);
    await harness.app.inject({ method: 'POST', url: '/api/trash/empty', headers: own, payload: {} });
    await patchShoot(other, { isRemoved: true });
  });

  it('names shoots anew', async () => {
    expect((await patchShoot(shootId, { name: ' Reeds ' })).json().name).toBe('Reeds');
    expect((await patchShoot(shootId, { name: ' ' })).statusCode).toBe(400);
  });
});

describe('the trash', () => {
  const trash = async () =>
    (await get('/api/trash')).json() as { frames: { id: string }[]; shoots: { name: string; frameCount: number }[] };

  it('keeps what was removed, with its work, until it is put back', async () => {
    const { stores } = harness.services;
    const { revision, prescription } = stores.prescriptions.get(ids[0]);
    stores.prescriptions.save(ids[0], revision, prescription);
    await change([{ id: ids[0], isRemoved: true }]);
    expect(await namesOf(shootId)).not.toContain('frame-1.png');
    expect((await trash()).frames.map(({ id }) => id)).toEqual([ids[0]]);
    await change([{ id: ids[0], isRemoved: false }]);
    expect(await namesOf(shootId)).toContain('frame-1.png');
    expect(stores.prescriptions.get(ids[0]).revision).toBe(revision + 1);
  });

  it('gives a frame back that is brought in again', async () => {
    await change([{ id: ids[1], isRemoved: true }]);
    const again = (await upload(harness.app, shootId, 'frame-2.png', await smallPng(2))).json();
    expect(again).toMatchObject({ id: ids[1], known: true });
    expect(await namesOf(shootId)).toContain('frame-2.png');
  });

  it('is not emptied while something in it is rendered', async () => {
    const render = { frameId: ids[2], revision: 0, format: 'png8' };
    await harness.app.inject({ method: 'POST', url: '/api/renders', headers: own, payload: render });
    await change([{ id: ids[2], isRemoved: true }]);
    const refused = await harness.app.inject({ method: 'POST', url: '/api/trash/empty', headers: own, payload: {} });
    expect(refused.statusCode).toBe(409);
    expect(refused.json().error).toMatch(/still being rendered/);
    await harness.services.renders.idle();
    await change([{ id: ids[2], isRemoved: false }]);
  });

  it('throws frames, their work and their files away for good, but no file that another frame is of', async () => {
    const { folder, stores } = harness.services;
    const shared = stores.frames.get(ids[0])!.sha256;
    const alone = stores.frames.get(ids[1])!.sha256;
    const other = await newShoot(harness.app, 'Jetty');
    await upload(harness.app, other, 'shared.png', await smallPng(1));
    await change([
      { id: ids[0], isRemoved: true },
      { id: ids[1], isRemoved: true },
    ]);
    const emptied = await harness.app.inject({ method: 'POST', url: '/api/trash/empty', headers: own, payload: {} });
    expect(emptied.json().frames).toBe(2);
    expect(existsSync(folder.original(shared))).toBe(true);
    expect(existsSync(folder.original(alone))).toBe(false);
    expect(existsSync(folder.samples(alone))).toBe(false);
    expect((await get(`/api/frames/${ids[0]}`)).statusCode).toBe(404);
    expect(await trash()).toEqual({ frames: [], shoots: [] });
  });

  it('takes whole shoots', async () => {
    await patchShoot(shootId, { isRemoved: true });
    const shoots = async () => ((await get('/api/shoots')).json() as { id: string }[]).map(({ id }) => id);
    expect(await shoots()).not.toContain(shootId);
    expect((await trash()).shoots).toMatchObject([{ name: 'Reeds', frameCount: 1 }]);
    await patchShoot(shootId, { isRemoved: false });
    expect(await shoots()).toContain(shootId);
    await patchShoot(shootId, { isRemoved: true });
    await harness.app.inject({ method: 'POST', url: '/api/trash/empty', headers: own, payload: {} });
    expect((await get(`/api/shoots/${shootId}`)).statusCode).toBe(404);
  });
});

it('a sheet of 2,000 frames is one short answer', async () => {
  const { stores } = harness.services;
  const id = await newShoot(harness.app, 'Two thousand');
  await harness.services.readings.idle();
  const few = stores.readings.get((await framesOf((await get('/api/shoots')).json()[0].id))[0].id).reading!;
  for (let i = 0; i < 2000; i++) {
    const frame = stores.frames.add({
      shootId: id,
      name: `f-${String(i).padStart(4, '0')}.jpg`,
      sha256: i.toString(16).padStart(64, '0'),
      format: 'jpeg',
      width: 6000,
      height: 4000,
      channels: 3,
      bits: 8,
      profile: 'srgb',
      exposure: NO_EXPOSURE,
    });
    stores.readings.sorted(frame.id, { reading: few, over: 'whole', place: { x: 1, y: 1 } });
  }
  const answer = await get(`/api/shoots/${id}`);
  expect(answer.json().frames).toHaveLength(2000);
  expect(answer.json().coverFrameIds).toHaveLength(4);
  // Under one kilobyte a frame, whatever its Reading holds.
  expect(answer.rawPayload.length).toBeLessThan(2000 * 1000);
});
