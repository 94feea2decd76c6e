import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import sharp from 'sharp';
import type { AreaOperation } from '@vitrocept/core';
import { newShoot, openHarness, own, upload, type Harness } from './harness';

let harness: Harness;
beforeAll(async () => {
  harness = await openHarness();
});
afterAll(() => harness.close());

describe('the subject of a frame', () => {
  it('is found by the server, as an operation that a mask takes', async () => {
    const shoot = await newShoot(harness.app);
    const frame = new URL('../../demo/frames/saltmere-0801.jpg', import.meta.url).pathname;
    const bytes = await sharp(frame).resize(400).jpeg().toBuffer();
    const { id } = (await upload(harness.app, shoot, 'beetle.jpg', bytes)).json();
    const answer = await harness.app.inject({ method: 'GET', url: `/api/frames/${id}/subject`, headers: own });
    const { operation, share } = answer.json() as { operation: AreaOperation; share: number };
    expect(operation).toMatchObject({ kind: 'area', mode: 'add', from: { kind: 'subject', dabs: [] } });
    expect(share).toBeGreaterThan(0.02);
    expect(share).toBeLessThan(0.9);
    const mask = { id: 'mask-1', name: 'subject', opacityPercent: 100, operations: [operation] };
    const url = `/api/frames/${id}/prescription`;
    const { saved } = (await harness.app.inject({ method: 'GET', url: `/api/frames/${id}`, headers: own })).json();
    const payload = { revision: saved.revision, prescription: { ...saved.prescription, mask } };
    expect((await harness.app.inject({ method: 'PUT', url, headers: own, payload })).statusCode).toBe(200);
  });
});
