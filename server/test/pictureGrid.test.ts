import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { automaticRecovery, emptyPrescription, type Prescription } from '@vitrocept/core';
import { newShoot, openHarness, own, smallPng, upload, type Harness } from './harness';

const SIDE = 300;
const CROP = { x: 30, y: 20, width: 250, height: 180 };
let harness: Harness;
let frameId: string;
let picture: Buffer;

beforeAll(async () => {
  harness = await openHarness();
  picture = await smallPng(5, SIDE);
  const shoot = await newShoot(harness.app);
  frameId = (await upload(harness.app, shoot, 'reed.png', picture)).json().id;
});
afterAll(() => harness.close());

let revision = 0;

async function renderOf(plan: Prescription, more: object = {}) {
  const { app, services } = harness;
  const url = `/api/frames/${frameId}/prescription`;
  const saved = await app.inject({ method: 'PUT', url, headers: own, payload: { revision, prescription: plan } });
  revision = saved.json().revision;
  const payload = { frameId, revision, format: 'png16', ...more };
  const { id } = (await app.inject({ method: 'POST', url: '/api/renders', headers: own, payload })).json();
  await services.renders.idle();
  return services.stores.renders.get(id)!;
}

const fileOf = ({ fileName }: { fileName: string | null }) => join(harness.services.folder.outbox, fileName!);
const rawOf = (image: Sharp) =>
  image.toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });

describe('a render on the picture’s own grid', () => {
  const shown = (plan: Prescription): Prescription => ({ ...plan, geometry: { crop: CROP, quarterTurns: 1 } });
  const recovered: Prescription = {
    ...emptyPrescription(),
    recovery: { ...automaticRecovery('ordinary-softness', null, 70), trialId: null },
  };

  it('is that part of the render of the frame, turned, to the code', async () => {
    const whole = await renderOf(recovered);
    const part = await renderOf(shown(recovered));
    expect(part).toMatchObject({ state: 'done', error: null });
    const { left, top, width, height } = { left: CROP.x, top: CROP.y, width: CROP.width, height: CROP.height };
    const wanted = await sharp(fileOf(whole))
      .extract({ left, top, width, height })
      .toColourspace('rgb16')
      .png()
      .toBuffer();
    const [is, should] = await Promise.all([rawOf(sharp(fileOf(part))), rawOf(sharp(wanted).rotate(90))]);
    expect(is.info).toMatchObject({ width: 180, height: 250 });
    expect(is.data.equals(should.data)).toBe(true);
    // Of the frame's four tiles the crop shows two; with the picture's one all were counted.
    expect(part.tilesAll).toBe(2 + 1);
    expect(part.tilesDone).toBe(part.tilesAll);
  });

  it('without any other change holds the original’s own codes', async () => {
    const part = await renderOf(shown(emptyPrescription()), { format: 'png8' });
    const { x: left, y: top, width, height } = CROP;
    const wanted = await sharp(picture).extract({ left, top, width, height }).png().toBuffer();
    const should = await sharp(wanted).rotate(90).raw().toBuffer();
    expect((await sharp(fileOf(part)).raw().toBuffer()).equals(should)).toBe(true);
  });

  it('gives all pages of a TIFF its size, also the one as taken', async () => {
    const job = await renderOf(shown(recovered), { format: 'tiff16', stages: ['original', 'recovered'] });
    const bytes = await readFile(fileOf(job));
    for (const page of [0, 1]) {
      expect(await sharp(bytes, { page }).metadata()).toMatchObject({ width: 180, height: 250 });
    }
  });

  it('a crop with nothing in it fails with a sentence, and leaves nothing behind', async () => {
    const job = await renderOf({ ...recovered, geometry: { crop: { ...CROP, x: 5000 }, quarterTurns: 0 } });
    expect(job).toMatchObject({ state: 'failed', error: expect.stringMatching(/outside the frame/), fileName: null });
  });
});
