import { existsSync } from 'node:fs';
import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { seededRandom } from '@vitrocept/core';
import { openHarness, own, upload, uploadTo, type Harness } from './harness';

let harness: Harness;
let frameId: string;
let picture: Buffer;

/** Overlapping tiles of many sizes, a little softened: something that can be laid on again. */
async function tiles(seed: number): Promise<Buffer> {
  const random = seededRandom(seed);
  const [width, height] = [420, 320];
  const pixels = Buffer.alloc(width * height * 3, 90);
  for (let tile = 0; tile < 700; tile++) {
    const [left, top] = [Math.floor(random.uniform() * width), Math.floor(random.uniform() * height)];
    const [w, h] = [4 + Math.floor(random.uniform() * 40), 4 + Math.floor(random.uniform() * 40)];
    const colour = [0, 1, 2].map(() => 30 + Math.floor(random.uniform() * 190));
    for (let y = top; y < Math.min(height, top + h); y++) {
      for (let x = left; x < Math.min(width, left + w); x++) pixels.set(colour, 3 * (y * width + x));
    }
  }
  return sharp(pixels, { raw: { width, height, channels: 3 } })
    .blur(1.2)
    .png()
    .toBuffer();
}

beforeAll(async () => {
  harness = await openHarness();
  const shoot = await harness.app.inject({
    method: 'POST',
    url: '/api/shoots',
    headers: own,
    payload: { name: 'Tiles' },
  });
  picture = await tiles(1);
  frameId = (await upload(harness.app, shoot.json().id, 'tiles.png', picture)).json().id;
});

afterAll(() => harness.close());

const url = () => `/api/frames/${frameId}/versions`;
const get = (path: string) => harness.app.inject({ method: 'GET', url: path, headers: own });

describe('outside versions', () => {
  let id: string;

  it('half the size, cropped, brighter: laid on, listed, known when it comes again', async () => {
    const version = await sharp(picture)
      .extract({ left: 10, top: 6, width: 400, height: 300 })
      .resize(200, 150)
      .linear(1.1, 0)
      .png()
      .toBuffer();
    const answer = await uploadTo(harness.app, url(), 'elsewhere.png', version);
    expect(answer.statusCode).toBe(201);
    const { alignment, ...facts } = answer.json();
    expect(facts).toMatchObject({ frameId, name: 'elsewhere.png', width: 200, height: 150 });
    expect(alignment.placement.scaleX).toBeCloseTo(0.5, 2);
    // The first sample of the version lies 10 px from the frame's left edge, half a sample in.
    expect(alignment.placement.shiftX).toBeCloseTo(-5.25, 0);
    expect(alignment.medianPx).toBeLessThanOrEqual(0.25);
    id = facts.id;
    expect((await uploadTo(harness.app, url(), 'again.png', version)).json().id).toBe(id);
    expect((await get(url())).json()).toHaveLength(1);
  });

  it('gives its samples on the frame’s grid in 16 bits, like the frame where tones were matched', async () => {
    const query = 'samples?x=100&y=100&width=64&height=48';
    const laid = await get(`${url()}/${id}/${query}`);
    expect(laid.rawPayload.length).toBe(64 * 48 * 3 * 2);
    const frame = (await get(`/api/frames/${frameId}/${query}`)).rawPayload;
    const codes = new Uint16Array(Uint8Array.from(laid.rawPayload).buffer);
    const apart = codes.reduce((sum, code, i) => sum + Math.abs(code / 257 - frame[i]), 0) / codes.length;
    expect(apart).toBeLessThan(12);
  });

  it('makes lost samples again from the file that was kept', async () => {
    const derived = join(harness.data, 'derived');
    const [name] = (await readdir(derived)).filter((file) => file.endsWith('.version'));
    await rm(join(derived, name));
    expect((await get(`${url()}/${id}/samples?x=0&y=0&width=8&height=8`)).statusCode).toBe(200);
    expect(existsSync(join(derived, name))).toBe(true);
  });

  it('another picture is refused with the grid, and leaves nothing behind', async () => {
    const before = await readdir(join(harness.data, 'originals'), { recursive: true });
    const answer = await uploadTo(harness.app, url(), 'strange.png', await tiles(9));
    expect(answer.statusCode).toBe(422);
    expect(answer.json()).toMatchObject({ code: 'NOT_ALIGNED' });
    expect(answer.json().grid).toHaveLength(49);
    expect(await readdir(join(harness.data, 'originals'), { recursive: true })).toEqual(before);
    expect(await readdir(join(harness.data, 'incoming'))).toEqual([]);
  });

  it('what is no picture, or grey beside a frame in colour, is refused by a sentence', async () => {
    expect((await uploadTo(harness.app, url(), 'letter.png', Buffer.from('Dear field station'))).statusCode).toBe(422);
    const grey = await sharp(picture).toColourspace('b-w').png().toBuffer();
    const answer = await uploadTo(harness.app, url(), 'grey.png', grey);
    expect(answer.statusCode).toBe(422);
    expect(answer.json().error).toMatch(/grey/);
  });

  it('unknown frames and versions are not found, odd regions refused', async () => {
    const nowhere = '00000000-0000-4000-8000-000000000000';
    expect((await get(`/api/frames/${nowhere}/versions`)).statusCode).toBe(404);
    expect((await get(`${url()}/${nowhere}/samples?x=0&y=0&width=8&height=8`)).statusCode).toBe(404);
    expect((await get(`${url()}/${id}/samples?x=0&y=0&width=8`)).statusCode).toBe(400);
    expect((await get(`${url()}/..%2f${id}/samples?x=0&y=0&width=8&height=8`)).statusCode).toBe(400);
  });

  it('is removed', async () => {
    expect((await harness.app.inject({ method: 'DELETE', url: `${url()}/${id}`, headers: own })).statusCode).toBe(200);
    expect((await get(url())).json()).toEqual([]);
  });

  it('and can be put back, with its samples', async () => {
    const restored = await harness.app.inject({ method: 'POST', url: `${url()}/${id}/restore`, headers: own });
    expect(restored.statusCode).toBe(200);
    expect((await get(url())).json()).toMatchObject([{ id }]);
    expect((await get(`${url()}/${id}/samples?x=0&y=0&width=8&height=8`)).statusCode).toBe(200);
  });
});
