import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { drawMask, emptyPrescription, type Prescription } from '@vitrocept/core';
import { readPicture } from '@vitrocept/files';
import { openHarness, own, smallPng, upload, type Harness } from './harness';

let harness: Harness;
let shootId: string;
let frameId: string;
let original: Buffer;

beforeAll(async () => {
  harness = await openHarness();
  const shoot = await harness.app.inject({
    method: 'POST',
    url: '/api/shoots',
    headers: own,
    payload: { name: ' Reed bed ' },
  });
  expect(shoot.statusCode).toBe(201);
  expect(shoot.json()).toMatchObject({ name: 'Reed bed', frameCount: 0 });
  shootId = shoot.json().id;
  original = await smallPng(1);
  const frame = await upload(harness.app, shootId, 'wedge.png', original);
  expect(frame.statusCode).toBe(201);
  frameId = frame.json().id;
});

afterAll(() => harness.close());

const get = (url: string, headers = own) => harness.app.inject({ method: 'GET', url, headers });
const revision = async () => (await get(`/api/frames/${frameId}`)).json().saved.revision as number;
const put = (payload: object) =>
  harness.app.inject({ method: 'PUT', url: `/api/frames/${frameId}/prescription`, headers: own, payload });

describe('frames', () => {
  it('are kept byte for byte under their hash and known when they come again', async () => {
    const { sha256 } = (await get(`/api/frames/${frameId}`)).json();
    expect((await readFile(join(harness.data, 'originals', sha256.slice(0, 2), sha256))).equals(original)).toBe(true);
    const again = await upload(harness.app, shootId, 'other-name.png', original);
    expect(again.statusCode).toBe(200);
    expect(again.json()).toMatchObject({ id: frameId, known: true, name: 'wedge.png' });
  });

  it('that are refused leave nothing behind', async () => {
    const before = await readdir(join(harness.data, 'originals'), { recursive: true });
    for (const bytes of [original.subarray(0, 300), Buffer.from('a letter'), Buffer.alloc(0)]) {
      const answer = await upload(harness.app, shootId, 'bad.png', bytes);
      expect(answer.statusCode).toBe(422);
      expect(answer.json().error).toMatch(/\.$/);
    }
    expect(await readdir(join(harness.data, 'originals'), { recursive: true })).toEqual(before);
    expect(await readdir(join(harness.data, 'incoming'))).toEqual([]);
  });

  it('names are shown without folders or control characters', async () => {
    const answer = await upload(harness.app, shootId, '..\\..\\etc\\we\u0007ird.png', await smallPng(2));
    expect(answer.json().name).toBe('weird.png');
  });

  it('get a first reading in the background', async () => {
    await harness.services.readings.idle();
    const { firstReading } = (await get(`/api/frames/${frameId}`)).json();
    expect(firstReading).toMatchObject({ state: 'sorted', error: null });
    expect(firstReading.reading.noisePercent).toBeGreaterThan(0);
  });

  it('give their histogram, and a see-through picture of what is clipped', async () => {
    const tones = (await get(`/api/frames/${frameId}/tones`)).json() as number[][];
    expect(tones.map((counts) => counts.reduce((sum, count) => sum + count, 0))).toEqual([
      160 * 160,
      160 * 160,
      160 * 160,
    ]);
    const hatch = await get(`/api/frames/${frameId}/clipping.png?side=100`);
    expect(hatch.headers['content-type']).toBe('image/png');
    const { data, info } = await sharp(hatch.rawPayload).raw().toBuffer({ resolveWithObject: true });
    expect(info).toMatchObject({ width: 100, height: 100, channels: 4 });
    // Nothing of the wedge is clipped.
    expect(Math.max(...data)).toBe(0);
    expect((await get(`/api/frames/${frameId}/clipping.png?side=9`)).statusCode).toBe(400);
  });

  it('give their samples by region, clipped to the frame', async () => {
    const answer = await get(`/api/frames/${frameId}/samples?x=-10&y=150&width=30&height=30`);
    expect(answer.headers['x-region']).toBe('0 150 20 10');
    const { samples } = await readPicture(join(harness.data, 'originals', ...(await hashPath())));
    expect(answer.rawPayload.subarray(0, 60)).toEqual(Buffer.from(samples.subarray(150 * 160 * 3, 150 * 160 * 3 + 60)));
    expect((await get(`/api/frames/${frameId}/samples?x=900&y=0&width=30&height=30`)).statusCode).toBe(400);
  });

  it('are measured over a box or a mask, and say when it is too small', async () => {
    const measure = (payload: object) =>
      harness.app.inject({ method: 'POST', url: `/api/frames/${frameId}/reading`, headers: own, payload });
    const operations = [{ kind: 'stroke', mode: 'add', sizePx: 150, featherPercent: 0, points: [80, 80] }];
    expect((await measure({ box: null, mask: operations })).json().noise).toHaveLength(3);
    expect((await measure({ box: { x: 10, y: 10, width: 120, height: 100 }, mask: null })).statusCode).toBe(200);
    const small = await measure({ box: { x: 10, y: 10, width: 20, height: 20 }, mask: null });
    expect(small.statusCode).toBe(422);
    expect(small.json().error).toMatch(/at least 64 px/);
    expect((await measure({ box: null, mask: [{ kind: 'melt' }] })).statusCode).toBe(422);
  });
});

async function hashPath(): Promise<[string, string]> {
  const { sha256 } = (await get(`/api/frames/${frameId}`)).json();
  return [sha256.slice(0, 2), sha256];
}

describe('prescriptions', () => {
  it('are saved on top of the revision that was loaded; a stale save gets 409 and the newer one', async () => {
    const first = { ...emptyPrescription(), probes: [{ id: 'a', name: 'eye', x: 5, y: 6 }] };
    expect((await put({ revision: 0, prescription: first })).json()).toEqual({ revision: 1 });
    const stale = await put({ revision: 0, prescription: emptyPrescription() });
    expect(stale.statusCode).toBe(409);
    expect(stale.json().saved).toEqual({ revision: 1, prescription: first });
    expect((await get(`/api/frames/${frameId}`)).json().saved.prescription).toEqual(first);
  });

  it('that are invalid are refused with what is wrong', async () => {
    const wrong = await put({ revision: 1, prescription: { ...emptyPrescription(), extra: 1 } });
    expect(wrong.statusCode).toBe(422);
    expect(wrong.json().error).toMatch(/extra/);
  });
});

describe('renders', () => {
  it('without a recovery hand over the original’s pixels, under a new name each time', async () => {
    for (const name of ['wedge-recovered.png', 'wedge-recovered-2.png']) {
      const job = (
        await harness.app.inject({
          method: 'POST',
          url: '/api/renders',
          headers: own,
          payload: { frameId, revision: await revision(), format: 'png8' },
        })
      ).json();
      await harness.services.renders.idle();
      expect((await get('/api/renders')).json().find(({ id }: { id: string }) => id === job.id)).toMatchObject({
        state: 'done',
        fileName: name,
      });
      const file = await get(`/api/renders/${job.id}/file`);
      expect(file.headers['content-disposition']).toContain(name);
      const [a, b] = await Promise.all([
        readPicture(join(harness.data, 'outbox', name)),
        readPicture(join(harness.data, 'originals', ...(await hashPath()))),
      ]);
      expect(Buffer.from(a.samples).equals(Buffer.from(b.samples))).toBe(true);
    }
  });

  it('a queued one that was interrupted waits again after a restart; only ended ones can be retried', async () => {
    const { stores } = harness.services;
    const job = stores.renders.add(frameId, emptyPrescription() as Prescription, 'png8', 90);
    stores.renders.begin(job.id);
    stores.renders.requeueInterrupted();
    expect(stores.renders.get(job.id)!.state).toBe('queued');
    const retry = await harness.app.inject({ method: 'POST', url: `/api/renders/${job.id}/retry`, headers: own });
    expect(retry.statusCode).toBe(409);
    expect(job.stages).toEqual(['recovered']);
    const stop = await harness.app.inject({ method: 'POST', url: `/api/renders/${job.id}/stop`, headers: own });
    expect(stop.json().state).toBe('stopped');
    expect((await get(`/api/renders/${job.id}/file`)).statusCode).toBe(409);
  });
});

describe('hostile requests', () => {
  const none = '00000000-0000-4000-8000-000000000000';
  it.each([
    ['GET', `/api/shoots/${none}`, undefined, 404],
    ['GET', `/api/frames/${none}`, undefined, 404],
    ['GET', '/api/frames/..%2f..%2fetc', undefined, 400],
    ['GET', '/api/frames/1%27%20OR%201', undefined, 400],
    ['GET', `/api/frames/FRAME/view.jpg?side=99999`, undefined, 400],
    ['GET', `/api/frames/FRAME/view.jpg`, undefined, 400],
    ['GET', `/api/frames/FRAME/samples?x=a&y=0&width=1&height=1`, undefined, 400],
    ['GET', `/api/frames/FRAME/samples?x=0&y=0&width=1e9&height=1`, undefined, 400],
    ['POST', '/api/shoots', { name: '' }, 400],
    ['POST', '/api/shoots', { name: 5 }, 400],
    ['POST', '/api/shoots', { name: 'a', owner: 'b' }, 400],
    ['POST', '/api/shoots', [], 400],
    ['POST', '/api/renders', { frameId: 'x', revision: 1, format: 'png8' }, 404],
    ['POST', '/api/renders', { frameId: 'FRAME', revision: 1, format: 'exe' }, 400],
    ['POST', '/api/renders', { frameId: 'FRAME', format: 'png8' }, 400],
    ['POST', '/api/renders', { frameId: 'FRAME', revision: 99, format: 'png8' }, 409],
    ['POST', '/api/frames/FRAME/reading', { box: { x: 0, y: 0, width: 100.5, height: 100 }, mask: null }, 400],
    ['POST', '/api/frames/FRAME/reading', { box: { x: -4, y: 0, width: 100, height: 100 }, mask: null }, 400],
    ['POST', '/api/renders', { frameId: 'FRAME', revision: 1, format: 'jpeg', quality: 400 }, 400],
    ['POST', '/api/renders', { frameId: 'FRAME', revision: 1, format: 'png8', stages: ['original', 'cleaned'] }, 400],
    ['POST', '/api/renders', { frameId: 'FRAME', revision: 1, format: 'tiff16', stages: ['polished'] }, 400],
    ['POST', '/api/renders', { frameId: 'FRAME', revision: 1, format: 'tiff16', stages: [] }, 400],
    ['POST', `/api/renders/${none}/stop`, undefined, 404],
    ['POST', `/api/renders/${none}/retry`, undefined, 404],
    ['GET', `/api/renders/${none}/file`, undefined, 404],
    ['POST', `/api/frames/FRAME/reading`, { box: 'all', mask: null }, 400],
    ['POST', `/api/frames/FRAME/reading`, {}, 400],
    ['PUT', `/api/frames/FRAME/prescription`, { revision: -1, prescription: {} }, 400],
    ['PUT', `/api/frames/FRAME/prescription`, { revision: 1 }, 400],
    ['POST', `/api/shoots/${none}/frames`, undefined, 404],
    ['DELETE', '/api/shoots', undefined, 404],
    ['GET', '/api/nothing', undefined, 404],
  ] as const)('%s %s %j → %i', async (method, url, payload, status) => {
    const answer = await harness.app.inject({
      method,
      url: url.replace('FRAME', frameId),
      headers: own,
      payload: payload === undefined ? undefined : JSON.parse(JSON.stringify(payload).replace('FRAME', frameId)),
    });
    expect(answer.statusCode).toBe(status);
    expect(answer.json().error).toMatch(/\S/);
    expect(answer.body).not.toMatch(/node_modules|\.ts:/);
  });

  it('foreign hosts and origins are refused, the own origin is not', async () => {
    expect((await get('/api/shoots', { host: 'saltmere.example' })).statusCode).toBe(421);
    expect((await get('/api/shoots', { host: '127.0.0.1.saltmere.example' })).statusCode).toBe(421);
    const from = (origin: string) => get('/api/shoots', { ...own, origin } as typeof own);
    expect((await from('http://saltmere.example')).statusCode).toBe(403);
    expect((await from('null')).statusCode).toBe(403);
    expect((await from('http://127.0.0.1:4317')).statusCode).toBe(200);
  });

  it('broken JSON and oversized bodies get a sentence', async () => {
    const send = (payload: string) =>
      harness.app.inject({
        method: 'POST',
        url: '/api/shoots',
        headers: { ...own, 'content-type': 'application/json' },
        payload,
      });
    expect((await send('{"name":')).statusCode).toBe(400);
    expect((await send(JSON.stringify({ name: 'a'.repeat(17 * 1024 * 1024) }))).statusCode).toBe(413);
  });
});

interface Saved {
  readonly saved: { readonly revision: number; readonly prescription: Prescription };
}

describe('the mask', () => {
  it('is given as a grey picture of their size, 16 or 8 bits', async () => {
    const { saved } = (await get(`/api/frames/${frameId}`)).json() as Saved;
    const stroke = { kind: 'stroke', mode: 'add', sizePx: 40, featherPercent: 50, points: [80, 80] } as const;
    const prescription = { ...saved.prescription, mask: { ...saved.prescription.mask, operations: [stroke] } };
    await put({ revision: saved.revision, prescription });
    const sixteen = await get(`/api/frames/${frameId}/mask.png`);
    expect(sixteen.headers['content-disposition']).toMatch(/-mask\.png$/);
    const { bits, channels, width } = await sharp(sixteen.rawPayload)
      .metadata()
      .then((facts) => ({ ...facts, bits: facts.depth }));
    expect([bits, channels, width]).toEqual(['ushort', 1, 160]);
    const eight = await get(`/api/frames/${frameId}/mask.png?bits=8`);
    const data = await sharp(eight.rawPayload).toColourspace('b-w').raw().toBuffer();
    const drawn = drawMask([stroke], { x: 0, y: 0, width: 160, height: 160 });
    drawn.data.forEach((value, i) => expect(Math.abs(data[i] - 255 * value)).toBeLessThanOrEqual(0.5));
    expect((await get(`/api/frames/${frameId}/mask.png?bits=7`)).statusCode).toBe(400);
    const now = (await get(`/api/frames/${frameId}`)).json() as Saved;
    await put({
      revision: now.saved.revision,
      prescription: saved.prescription,
    });
    const all = await sharp((await get(`/api/frames/${frameId}/mask.png?bits=8`)).rawPayload).stats();
    expect(all.channels[0].min).toBe(255);
  });
});
