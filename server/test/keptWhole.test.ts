import Database from 'better-sqlite3';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, readFile, rm, stat, truncate, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { emptyPrescription, type Prescription, type Stroke } from '@vitrocept/core';
import { openDatabase } from '../src/db/open';
import { loadDemoShoot } from '../src/demoShoot';
import { makeRoom } from '../src/originals/derivedSpace';
import { newShoot, openHarness, openQuietly, own, smallPng, upload, type Harness } from './harness';

const silent = () => undefined;
const newFolder = () => mkdtemp(join(tmpdir(), 'vitrocept-kept-'));

describe('a data folder', () => {
  it('belongs to one process: a second is told so and touches nothing', async () => {
    const data = await newFolder();
    const first = openQuietly(data);
    await writeFile(join(data, 'incoming', 'half'), 'an upload under way');
    expect(() => openQuietly(data)).toThrow(/Another Vitrocept \(process \d+\) works in the data folder/);
    expect(await readFile(join(data, 'incoming', 'half'), 'utf8')).toBe('an upload under way');
    await first.close();
    const again = openQuietly(data);
    expect(await readdir(join(data, 'incoming'))).toEqual([]);
    await again.close();
    await rm(data, { recursive: true });
  });

  it('that is a file, or holds a damaged or newer database, is refused with a way out', async () => {
    const data = await newFolder();
    await writeFile(join(data, 'file'), '');
    expect(() => openQuietly(join(data, 'file'))).toThrow(/is not a folder. Choose another/);
    const database = join(data, 'vitrocept.sqlite');
    await writeFile(database, 'no database at all, but long enough to be looked at as one'.repeat(20));
    expect(() => openQuietly(data)).toThrow(/is damaged. Put a copy of it back/);
    await rm(database);
    const newer = new Database(database);
    newer.pragma('user_version = 999');
    newer.close();
    expect(() => openQuietly(data)).toThrow(/of a newer Vitrocept \(form 999/);
    await rm(database);
    // The lock is not left behind by a start that failed.
    await openQuietly(data).close();
    await rm(data, { recursive: true });
  });

  it('throws away unfinished parts, and sets originals aside that no frame knows, without losing them', async () => {
    const data = await newFolder();
    const sha256 = 'ab'.repeat(32);
    await mkdir(join(data, 'originals', 'ab'), { recursive: true });
    await writeFile(join(data, 'originals', 'ab', sha256), 'bytes');
    await writeFile(join(data, 'originals', 'ab', `${sha256}.x.part`), 'half');
    await openQuietly(data).close();
    expect(await readdir(join(data, 'originals', 'ab'))).toEqual([]);
    expect(await readFile(join(data, 'unclaimed', sha256), 'utf8')).toBe('bytes');
    await rm(data, { recursive: true });
  });

  it('keeps decoded samples within bounds, the least recently used first', async () => {
    const derived = await newFolder();
    for (const [name, day] of [
      ['a', 3],
      ['b', 1],
      ['c', 2],
      ['.d.part', 0],
    ] as const) {
      await writeFile(join(derived, name), Buffer.alloc(1000));
      await utimes(join(derived, name), 86400 * (day + 1), 86400 * (day + 1));
    }
    makeRoom(derived, 3000);
    expect((await readdir(derived)).sort()).toEqual(['.d.part', 'a', 'b', 'c']);
    makeRoom(derived, 2500);
    expect((await readdir(derived)).sort()).toEqual(['.d.part', 'a', 'c']);
    makeRoom(derived, 10);
    expect((await readdir(derived)).sort()).toEqual(['.d.part', 'a']);
    await rm(derived, { recursive: true });
  });

  it('a first start that was stopped while the demo came in goes on with it at the next', async () => {
    const [data, frames] = [await newFolder(), await newFolder()];
    for (const seed of [1, 2, 3]) await writeFile(join(frames, `f${seed}.png`), await smallPng(seed, 80));
    const first = openQuietly(data);
    const loading = loadDemoShoot(first, frames);
    await vi.waitFor(() => expect(first.stores.frames.inShoot(first.stores.shoots.all()[0].id)).toHaveLength(1), {
      timeout: 60_000,
    });
    await first.close();
    await loading.catch(silent);
    const second = openQuietly(data);
    await loadDemoShoot(second, frames);
    const [shoot, ...others] = second.stores.shoots.all();
    expect(others).toEqual([]);
    expect(second.stores.frames.inShoot(shoot.id).map(({ name }) => name)).toEqual(['f1.png', 'f2.png', 'f3.png']);
    await rm(join(frames, 'f1.png'));
    await writeFile(join(frames, 'f9.png'), await smallPng(9, 80));
    await loadDemoShoot(second, frames);
    expect(second.stores.frames.inShoot(shoot.id)).toHaveLength(3);
    await second.close();
    for (const folder of [data, frames]) await rm(folder, { recursive: true });
  });
});

describe('a full disk', () => {
  it('is said when saving, ends nothing, and what comes after there is room is saved', async () => {
    let db!: Database.Database;
    const harness = await openHarness((path) => (db = openDatabase(path)));
    const { app } = harness;
    const frame = (await upload(app, await newShoot(app), 'wedge.png', await smallPng(1, 100))).json();
    await harness.services.readings.idle();
    const pages = db.pragma('page_count', { simple: true }) as number;
    db.pragma(`max_page_count = ${pages}`);
    const heavy = painted(400, 60);
    const save = (prescription: Prescription) =>
      app.inject({
        method: 'PUT',
        url: `/api/frames/${frame.id}/prescription`,
        headers: own,
        payload: { revision: 0, prescription },
      });
    const refused = await save(heavy);
    expect(refused.statusCode).toBe(507);
    expect(refused.json()).toMatchObject({ code: 'DISK_FULL', error: expect.stringMatching(/is kept in this page/) });
    // A Reading that cannot be written down ends its round, not the process.
    harness.services.stores.readings.done = () => {
      throw Object.assign(new Error('database or disk is full'), { code: 'SQLITE_FULL' });
    };
    harness.services.stores.readings.failed = harness.services.stores.readings.done as never;
    harness.services.stores.readings.wait(frame.id);
    harness.services.readings.wake();
    await expect(harness.services.readings.idle()).resolves.toBeUndefined();
    db.pragma('max_page_count = 1000000');
    expect((await save(heavy)).json()).toEqual({ revision: 1 });
    await harness.close();
  });
});

function painted(strokes: number, points: number): Prescription {
  const empty = emptyPrescription();
  const operations = Array.from({ length: strokes }, (_, i): Stroke => ({
    kind: 'stroke',
    mode: 'add',
    sizePx: 40,
    featherPercent: 30,
    points: Array.from({ length: 2 * points }, (_, k) => ((i * 131 + k * 17) % 900) / 2),
  }));
  return { ...empty, mask: { ...empty.mask, operations } };
}

describe('frames', () => {
  let harness: Harness;
  let shootId: string;
  let frameId: string;
  let original: string;
  const bytes = smallPng(7, 130);
  const get = (url: string) => harness.app.inject({ method: 'GET', url, headers: own });

  beforeAll(async () => {
    harness = await openHarness();
    shootId = await newShoot(harness.app);
    const frame = (await upload(harness.app, shootId, 'wedge.png', await bytes)).json();
    frameId = frame.id;
    original = join(harness.data, 'originals', frame.sha256.slice(0, 2), frame.sha256);
    await harness.services.readings.idle();
  });
  afterAll(() => harness.close());

  it('whose original was lost or damaged are mended when the same file comes in again', async () => {
    await rm(original);
    const lost = await get(`/api/frames/${frameId}/original`);
    expect(lost.statusCode).toBe(410);
    expect(lost.json().error).toMatch(/Bring the same file in again/);
    expect((await upload(harness.app, shootId, 'wedge.png', await bytes)).json()).toMatchObject({ known: true });
    expect((await readFile(original)).equals(await bytes)).toBe(true);
    await truncate(original, 100);
    await upload(harness.app, shootId, 'wedge.png', await bytes);
    expect((await readFile(original)).equals(await bytes)).toBe(true);
    expect((await get(`/api/frames/${frameId}/original`)).rawPayload.equals(await bytes)).toBe(true);
  });

  it('painted heavily are stored packed and come back as they were', async () => {
    const heavy = painted(300, 100);
    const saved = harness.services.stores.prescriptions.save(frameId, 0, heavy);
    expect(saved?.revision).toBe(1);
    const db = new Database(join(harness.data, 'vitrocept.sqlite'), { readonly: true });
    const row = db.prepare('SELECT length(packed) AS packed, body FROM prescription').get() as { packed: number };
    db.close();
    expect(row).toMatchObject({ body: '' });
    expect(row.packed * 3).toBeLessThan(JSON.stringify(heavy).length);
    expect(harness.services.stores.prescriptions.get(frameId).prescription).toEqual(heavy);
  });

  it('one with a prescription of a newer Vitrocept does not hide the others of its shoot', async () => {
    const other = (await upload(harness.app, shootId, 'other.png', await smallPng(8, 90))).json();
    const db = new Database(join(harness.data, 'vitrocept.sqlite'));
    const body = JSON.stringify({ ...emptyPrescription(), version: 99 });
    db.prepare("INSERT INTO prescription (frame_id, revision, body, saved_at) VALUES (?, 3, ?, '')").run(
      other.id,
      body,
    );
    db.close();
    const shoot = await get(`/api/shoots/${shootId}`);
    expect(shoot.statusCode).toBe(200);
    expect(shoot.json().frames).toHaveLength(2);
    const alone = await get(`/api/frames/${other.id}`);
    expect(alone.statusCode).toBe(422);
    expect(alone.json().error).toMatch(/version 99/);
  });

  it('with a long name that is not in ASCII are rendered all the same', async () => {
    const name = `${'é'.repeat(150)}.png`;
    const frame = (await upload(harness.app, shootId, name, await smallPng(9, 90))).json();
    const payload = { frameId: frame.id, revision: 0, format: 'png8' };
    const job = (await harness.app.inject({ method: 'POST', url: '/api/renders', headers: own, payload })).json();
    await harness.services.renders.idle();
    const { state, fileName } = harness.services.stores.renders.get(job.id)!;
    expect(state).toBe('done');
    expect(fileName).toMatch(/^é+-recovered\.png$/);
    expect(existsSync(join(harness.data, 'outbox', fileName!))).toBe(true);
  });

  it('the same bytes to eight shoots at once come into each', async () => {
    const shoots = await Promise.all(Array.from({ length: 8 }, (_, i) => newShoot(harness.app, `hide ${i}`)));
    const same = await smallPng(11, 120);
    const answers = await Promise.all(shoots.map((id) => upload(harness.app, id, 'same.png', same)));
    expect(answers.map(({ statusCode }) => statusCode)).toEqual(Array(8).fill(201));
    expect(await readdir(join(harness.data, 'incoming'))).toEqual([]);
  });

  it('come in although somebody tidied incoming/ away; an upload without a boundary or a name is refused kindly', async () => {
    await rm(join(harness.data, 'incoming'), { recursive: true });
    expect((await upload(harness.app, shootId, 'late.png', await smallPng(12, 90))).statusCode).toBe(201);
    const url = `/api/shoots/${shootId}/frames`;
    const send = (type: string, payload: string | Buffer) =>
      harness.app.inject({ method: 'POST', url, headers: { ...own, 'content-type': type }, payload });
    expect((await send('multipart/form-data', 'x')).statusCode).toBe(400);
    const unnamed = Buffer.concat([
      Buffer.from('--b\r\nContent-Disposition: form-data; name="file"\r\nContent-Type: image/png\r\n\r\n'),
      await smallPng(13, 90),
      Buffer.from('\r\n--b--\r\n'),
    ]);
    expect((await send('multipart/form-data; boundary=b', unnamed)).statusCode).toBeLessThan(500);
  });

  it('growing without end, or more strokes than anybody paints, is refused by a sentence', async () => {
    const { revision } = harness.services.stores.prescriptions.get(frameId);
    const save = (prescription: Prescription) =>
      harness.app.inject({
        method: 'PUT',
        url: `/api/frames/${frameId}/prescription`,
        headers: own,
        payload: { revision, prescription },
      });
    const empty = emptyPrescription();
    const operations = Array.from({ length: 1200 }, () => ({ kind: 'grow', px: 200 }) as const);
    const grown = await save({ ...empty, mask: { ...empty.mask, operations } });
    expect(grown.statusCode).toBe(422);
    expect(grown.json().error).toMatch(/growing and softening may reach 2000 px together, these acts reach 240000 px/);
    expect((await save(painted(20, 19_000))).json().error).toMatch(
      /may have 250000 points together, these have 380000/,
    );
  });

  it('a Reading is stopped when whoever asked is gone', async () => {
    const signals: AbortSignal[] = [];
    const { crew } = harness.services;
    const real = crew.run.bind(crew);
    const run = vi.spyOn(crew, 'run').mockImplementation((task, signal) => {
      if (!signal) return real(task);
      signals.push(signal);
      return new Promise((_, reject) => signal.addEventListener('abort', () => reject(new Error('gone'))));
    });
    const url = await harness.app.listen({ host: '127.0.0.1', port: 0 });
    const asking = new AbortController();
    const body = JSON.stringify({ box: null, mask: null });
    const headers = { 'content-type': 'application/json' };
    const answer = fetch(`${url}/api/frames/${frameId}/reading`, {
      method: 'POST',
      headers,
      body,
      signal: asking.signal,
    });
    answer.catch(silent);
    await vi.waitFor(() => expect(signals).toHaveLength(1), { timeout: 60_000 });
    expect(signals[0].aborted).toBe(false);
    asking.abort();
    await vi.waitFor(() => expect(signals[0].aborted).toBe(true), { timeout: 60_000 });
    run.mockRestore();
  });
});

describe('first Readings', () => {
  it('that a good end interrupts are never to blame for it; those under which the process died thrice are given up', async () => {
    const first = await openHarness();
    const { id } = (await upload(first.app, await newShoot(first.app), 'a.png', await smallPng(21, 90))).json();
    await first.services.readings.idle();
    const { readings } = first.services.stores;
    readings.wait(id);
    const before = readings.nextWaiting(new Set())!.attempts;
    // Interrupted by a good end: the crew is gone, the server is closing.
    first.services.crew.run = () => Promise.reject(new Error('The crew is gone.'));
    Object.defineProperty(first.services, 'closing', { value: true, configurable: true, writable: true });
    first.services.readings.wake();
    await first.services.readings.idle();
    expect(readings.nextWaiting(new Set())).toMatchObject({ frameId: id, attempts: before });
    // Without a word, thrice.
    for (let i = before; i < 3; i++) readings.begin(id);
    Object.defineProperty(first.services, 'closing', { value: false, configurable: true, writable: true });
    first.services.readings.wake();
    await first.services.readings.idle();
    expect(readings.get(id)).toMatchObject({ state: 'failed', error: expect.stringMatching(/ended several times/) });
    await first.close();
  });
});

describe('renders', () => {
  it('under which the process ended twice are given up with the reason, others wait again', async () => {
    const data = await newFolder();
    const first = openQuietly(data);
    const shoot = first.stores.shoots.add('Hide');
    const frame = first.stores.frames.add({
      shootId: shoot.id,
      name: 'a.png',
      sha256: 'cd'.repeat(32),
      format: 'png',
      width: 8,
      height: 8,
      channels: 3,
      bits: 8,
      profile: 'sRGB',
      exposure: {} as never,
    });
    const { renders } = first.stores;
    const [bad, good] = [1, 2].map(() => renders.add(frame.id, emptyPrescription(), 'png8', 92));
    // Twice begun, and each time the process ended without a word.
    renders.begin(bad.id);
    renders.requeueInterrupted();
    expect(renders.get(bad.id)?.state).toBe('queued');
    renders.begin(bad.id);
    renders.begin(good.id);
    renders.requeueInterrupted();
    expect(renders.get(bad.id)).toMatchObject({ state: 'failed', error: expect.stringMatching(/ended twice/) });
    expect(renders.get(good.id)?.state).toBe('queued');
    // Tried again by hand it may run twice more.
    renders.requeue(bad.id);
    renders.begin(bad.id);
    renders.requeueInterrupted();
    expect(renders.get(bad.id)?.state).toBe('queued');
    // The newest stands first whatever the clock says.
    vi.useFakeTimers({ now: 0 });
    const newest = renders.add(frame.id, emptyPrescription(), 'png8', 92);
    vi.useRealTimers();
    expect(renders.all()[0].id).toBe(newest.id);
    await first.close();
    await rm(data, { recursive: true });
  });

  it('leave nothing in derived/ but samples', async () => {
    const harness = await openHarness();
    const frame = (await upload(harness.app, await newShoot(harness.app), 'a.png', await smallPng(3, 90))).json();
    const payload = { frameId: frame.id, revision: 0, format: 'tiff16' };
    await harness.app.inject({ method: 'POST', url: '/api/renders', headers: own, payload });
    await harness.services.renders.idle();
    const names = await readdir(join(harness.data, 'derived'));
    expect(names.filter((name) => !/\.samples(\.facts|\.view\.jpg)?$/.test(name))).toEqual([]);
    expect((await stat(join(harness.data, 'outbox', 'a-recovered.tiff'))).size).toBeGreaterThan(1000);
    await harness.close();
  });
});
