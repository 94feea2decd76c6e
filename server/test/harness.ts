import type { FastifyInstance } from 'fastify';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { buildApp } from '../src/app';
import { hireCrew } from '../src/crew/crew';
import { openServices } from '../src/openServices';
import type { Services } from '../src/services';

export interface Harness {
  readonly app: FastifyInstance;
  readonly services: Services;
  readonly data: string;
  close(): Promise<void>;
}

const builtWorker = { filename: join(import.meta.dirname, '../../dist/node/worker.js'), execArgv: [] };

/** The server's threads as they were built before the tests: from source each takes two seconds to begin. */
const hireBuiltCrew = () => hireCrew(builtWorker);

/** A data folder's services, which say nothing. */
export const openQuietly = (data: string) => openServices(data, () => undefined, undefined, undefined, hireBuiltCrew);

export async function openHarness(
  open?: Parameters<typeof openServices>[2],
  waits?: Parameters<typeof openServices>[3],
): Promise<Harness> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-server-'));
  const services = openServices(data, () => undefined, open, waits, hireBuiltCrew);
  const truths = join(import.meta.dirname, '../../demo/truth');
  const app = await buildApp(services, join(data, 'no-page'), truths);
  return {
    app,
    services,
    data,
    async close() {
      await app.close();
      await services.close();
      await rm(data, { recursive: true, force: true });
    },
  };
}

/** A grey wedge with texture, seeded; small enough to be quick, large enough to be read. */
export function smallPng(seed: number, side = 160): Promise<Buffer> {
  let state = seed;
  const pixels = Buffer.alloc(side * side * 3);
  for (let i = 0; i < pixels.length; i++) {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    pixels[i] = 60 + (Math.floor(i / 3) % side) / 2 + ((state >> 16) % 60);
  }
  return sharp(pixels, { raw: { width: side, height: side, channels: 3 } })
    .png()
    .toBuffer();
}

export function upload(app: FastifyInstance, shootId: string, name: string, bytes: Buffer) {
  return uploadTo(app, `/api/shoots/${shootId}/frames`, name, bytes);
}

export async function newShoot(app: FastifyInstance, name = 'Reed bed'): Promise<string> {
  const answer = await app.inject({ method: 'POST', url: '/api/shoots', headers: own, payload: { name } });
  return answer.json().id as string;
}

export async function uploadTo(app: FastifyInstance, url: string, name: string, bytes: Buffer) {
  const boundary = 'saltmere';
  const head = `--${boundary}\r\nContent-Disposition: form-data; name="file"; filename="${name}"\r\nContent-Type: application/octet-stream\r\n\r\n`;
  const payload = Buffer.concat([Buffer.from(head), bytes, Buffer.from(`\r\n--${boundary}--\r\n`)]);
  const headers = { 'content-type': `multipart/form-data; boundary=${boundary}`, host: '127.0.0.1:4317' };
  return app.inject({ method: 'POST', url, headers, payload });
}

export const own = { host: '127.0.0.1:4317' };
