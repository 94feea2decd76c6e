import { get as httpGet, type IncomingMessage } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { emptyPrescription } from '@vitrocept/core';
import type { Change } from '../src/events/changes';
import { newShoot, openHarness, own, smallPng, upload, type Harness } from './harness';

let harness: Harness;
let port: number;

beforeAll(async () => {
  harness = await openHarness();
  await harness.app.listen({ host: '127.0.0.1', port: 0 });
  port = (harness.app.server.address() as { port: number }).port;
});
afterAll(() => harness.close());

/** A page that listens: what it has heard, and how it goes away. */
async function listener() {
  const heard: (Change | { kind: 'listening' })[] = [];
  const headers = { accept: 'text/event-stream' };
  const answer = await new Promise<IncomingMessage>((resolve) =>
    httpGet({ host: '127.0.0.1', port, path: '/api/changes', headers }, resolve),
  );
  answer.setEncoding('utf8');
  answer.on('data', (text: string) => {
    for (const line of text.split('\n')) if (line.startsWith('data: ')) heard.push(JSON.parse(line.slice(6)));
  });
  answer.on('error', () => undefined);
  const until = async (isSo: () => boolean) => {
    while (!isSo()) await new Promise((resolve) => setTimeout(resolve, 5));
  };
  await until(() => heard.length > 0);
  return { heard, answer, until, leave: () => answer.destroy() };
}

describe('what changes is told', () => {
  it('to everybody who listens, and to nobody who left', async () => {
    const { heard, answer, until, leave } = await listener();
    expect(answer.headers['content-type']).toMatch(/text\/event-stream/);
    expect(heard).toEqual([{ kind: 'listening' }]);
    const shoot = await newShoot(harness.app);
    const { id } = (await upload(harness.app, shoot, 'a.png', await smallPng(3))).json();
    await harness.services.readings.idle();
    const url = `/api/frames/${id}/prescription`;
    const payload = {
      revision: 0,
      prescription: { ...emptyPrescription(), box: { x: 1, y: 1, width: 90, height: 90 } },
    };
    await harness.app.inject({ method: 'PUT', url, headers: own, payload });
    // Told in order: what was not heard by then was never told.
    harness.services.changes.tell({ kind: 'shoot', id: 'last' });
    await until(() => heard.some((change) => change.kind === 'shoot' && change.id === 'last'));
    expect(heard).toContainEqual({ kind: 'shoots' });
    expect(heard).toContainEqual({ kind: 'shoot', id: shoot });
    expect(heard).toContainEqual({ kind: 'frame', id, revision: 1 });
    // Brought in, waiting, read, saved: four times the shoot looks otherwise.
    expect(heard.filter((change) => change.kind === 'shoot').length).toBeGreaterThanOrEqual(4);
    leave();
    await until(() => harness.services.changes.listening === 0);
    const told = heard.length;
    await newShoot(harness.app, 'Nobody hears of it');
    expect(heard.length).toBe(told);
  });

  it('says how a render goes on, and nothing of a save that was refused', async () => {
    const { heard, until, leave } = await listener();
    const shoot = await newShoot(harness.app, 'Renders');
    const { id } = (await upload(harness.app, shoot, 'b.png', await smallPng(4))).json();
    await harness.services.readings.idle();
    const stale = { revision: 7, prescription: emptyPrescription() };
    const refused = await harness.app.inject({
      method: 'PUT',
      url: `/api/frames/${id}/prescription`,
      headers: own,
      payload: stale,
    });
    expect(refused.statusCode).toBe(409);
    const payload = { frameId: id, revision: 0, format: 'png8' };
    await harness.app.inject({ method: 'POST', url: '/api/renders', headers: own, payload });
    await harness.services.renders.idle();
    harness.services.changes.tell({ kind: 'shoot', id: 'last' });
    await until(() => heard.some((change) => change.kind === 'shoot' && change.id === 'last'));
    expect(heard.filter((change) => change.kind === 'renders').length).toBeGreaterThanOrEqual(4);
    expect(heard.some((change) => change.kind === 'frame')).toBe(false);
    leave();
  });

  it('only as a stream of events', async () => {
    const headers = { ...own, accept: 'application/json' };
    const answer = await harness.app.inject({ method: 'GET', url: '/api/changes', headers });
    expect(answer.statusCode).toBe(406);
  });
});
