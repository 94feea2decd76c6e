import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { automaticRecovery, emptyPrescription, USUAL_SPEC } from '@vitrocept/core';
import { openHarness, own, smallPng, upload, type Harness } from './harness';

let harness: Harness;
beforeAll(async () => {
  harness = await openHarness();
});
afterAll(() => harness.close());

const get = (url: string) => harness.app.inject({ method: 'GET', url, headers: own });
const post = (url: string, payload: object = {}) => harness.app.inject({ method: 'POST', url, headers: own, payload });
const addressOf = (spec: object) => `/api/practice/preview.jpg?spec=${encodeURIComponent(JSON.stringify(spec))}`;

it('tells its scenes and twelve challenges, none of them graded', async () => {
  const told = (await get('/api/practice')).json();
  expect(told.scenes).toEqual(['marten', 'beetle', 'puppet', 'card']);
  expect(told.challenges).toHaveLength(12);
  for (const { own: gain } of told.challenges) expect(gain).toBeNull();
  const view = await get('/api/practice/scenes/2/view.jpg');
  expect((await sharp(view.rawPayload).metadata()).width).toBe(240);
  expect((await get('/api/practice/scenes/9/view.jpg')).statusCode).toBe(404);
});

it('shows what it would take, the same for the same number, and says what it cannot take', async () => {
  const [once, again, other] = [
    await get(addressOf(USUAL_SPEC)),
    await get(addressOf(USUAL_SPEC)),
    await get(addressOf({ ...USUAL_SPEC, seed: 2 })),
  ];
  expect(once.statusCode).toBe(200);
  expect(again.rawPayload.equals(once.rawPayload)).toBe(true);
  expect(other.rawPayload.equals(once.rawPayload)).toBe(false);
  for (const [change, why] of [
    [{ focusErrorMm: 9999, aperture: 1.2 }, /still a picture/],
    [{ fault: 'fog' }, /cannot take that/],
    [{ scene: 17 }, /no such scene/],
    [{ scene: 'nobody' }, /frame/],
  ] as const) {
    const answer = await get(addressOf({ ...USUAL_SPEC, ...change }));
    expect(answer.statusCode).toBeGreaterThanOrEqual(400);
    expect(answer.json().error).toMatch(why);
  }
});

it('photographs into a shoot of its own; what was chosen is graded, and the truth lies beside the trials', async () => {
  const taken = await post('/api/practice/photograph', { challenge: 'near-miss' });
  expect(taken.statusCode).toBe(201);
  const { frameId } = taken.json();
  expect((await get(`/api/frames/${frameId}`)).json()).toMatchObject({
    name: 'near-miss.jpg',
    shootName: 'Practice camera',
  });
  expect((await get(`/api/frames/${frameId}/practice`)).json()).toMatchObject({ challenge: 'near-miss', grade: null });

  // Nothing chosen: as near to the truth as the photograph, and nothing to judge.
  const alone = (await post(`/api/frames/${frameId}/grade`)).json();
  expect(alone.grade.gain).toBeCloseTo(0, 6);
  expect(alone.squares.every(({ outcome }: { outcome: string }) => outcome === 'not judged')).toBe(true);

  const truth = (await post(`/api/frames/${frameId}/truth`)).json();
  expect(truth).toMatchObject({ name: 'the truth', width: 840, height: 560 });
  expect((await post(`/api/frames/${frameId}/truth`)).json().id).toBe(truth.id);
  expect((await get(`/api/frames/${frameId}/versions`)).json()).toHaveLength(1);

  const { challenges } = (await get('/api/practice')).json();
  expect(challenges.find(({ name }: { name: string }) => name === 'near-miss').own).toBeCloseTo(0, 6);
});

it('a recovery of the right blur is graded better, its probes beside what the audit said', async () => {
  const spec = { ...USUAL_SPEC, scene: 3, focusErrorMm: 330, iso: 100 };
  const { frameId } = (await post('/api/practice/photograph', { spec })).json();
  const { saved } = (await get(`/api/frames/${frameId}`)).json();
  const prescription = {
    ...emptyPrescription(),
    recovery: {
      ...automaticRecovery('missed-focus', null, 100),
      blurSizePx: { value: 4.7, auto: false },
      learnedTexture: false,
      trialId: null,
    },
    probes: [{ id: 'p', name: 'letters', x: 420, y: 280 }],
  };
  const put = await harness.app.inject({
    method: 'PUT',
    url: `/api/frames/${frameId}/prescription`,
    headers: own,
    payload: { revision: saved.revision, prescription },
  });
  expect(put.statusCode).toBe(200);
  const { grade, probes, squares } = (await post(`/api/frames/${frameId}/grade`)).json();
  expect(grade.gain).toBeGreaterThan(1.5);
  expect(probes[0]).toMatchObject({ name: 'letters', width: 96 });
  expect(probes[0].gain).toBeGreaterThan(0);
  expect(squares).toHaveLength(8 * 5);
  expect(squares.filter(({ outcome }: { outcome: string }) => outcome !== 'not judged').length).toBeGreaterThan(20);
}, 120_000);

it('only what it took itself is graded, and a frame of one’s own must be sharp', async () => {
  const shoot = (await post('/api/shoots', { name: 'Other' })).json();
  const { id } = (await upload(harness.app, shoot.id, 'wedge.png', await smallPng(3))).json();
  expect((await get(`/api/frames/${id}/practice`)).json()).toBeNull();
  expect((await post(`/api/frames/${id}/grade`)).json().error).toMatch(/nobody knows the truth/);
  expect((await post(`/api/frames/${id}/truth`)).statusCode).toBe(409);
  await harness.services.readings.idle();
  const answer = await post('/api/practice/photograph', { spec: { ...USUAL_SPEC, scene: id } });
  expect(answer.statusCode).toBe(409);
  expect(answer.json().error).toMatch(/not in Good as is|too small/);
  expect((await post('/api/practice/photograph', {})).statusCode).toBe(400);
  expect((await post('/api/practice/photograph', { challenge: 'nowhere' })).statusCode).toBe(404);
});
