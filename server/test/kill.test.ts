import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { readPicture } from '@vitrocept/files';
import { seeded } from '../../core/test/synthetic';
import { smallPng } from './harness';

const ROOT = new URL('../..', import.meta.url).pathname;
const KILLS = 5;

async function start(data: string): Promise<{ child: ChildProcess; url: string }> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    cwd: ROOT,
    env: { ...process.env, VITROCEPT_DATA: data, PORT: '0' },
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  const url = await new Promise<string>((resolve, reject) => {
    child.stdout!.on('data', (chunk: Buffer) => {
      const address = /http:\/\/127\.0\.0\.1:\d+/.exec(chunk.toString());
      if (address) resolve(address[0]);
    });
    child.on('exit', () => reject(new Error('The server ended.')));
  });
  return { child, url };
}

/** Brings a frame in and renders it; fails silently when the server dies under it. */
async function use(url: string, seed: number): Promise<void> {
  const json = { 'content-type': 'application/json' };
  const shoot = (await (
    await fetch(`${url}/api/shoots`, { method: 'POST', headers: json, body: '{"name":"Kill"}' })
  ).json()) as { id: string };
  const form = new FormData();
  form.append('file', new Blob([new Uint8Array(await smallPng(seed, 600))]), `frame-${seed}.png`);
  const frame = (await (
    await fetch(`${url}/api/shoots/${shoot.id}/frames`, { method: 'POST', body: form })
  ).json()) as { id: string };
  const render = JSON.stringify({ frameId: frame.id, revision: 0, format: 'tiff16' });
  await fetch(`${url}/api/renders`, { method: 'POST', headers: json, body: render });
}

it(`survives ${KILLS} kills: every original has its hash, every copy listed is whole, every render is done, queued or failed`, async () => {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-kill-'));
  const random = seeded(99);
  for (let i = 0; i < KILLS; i++) {
    const { child, url } = await start(data);
    const gone = new Promise((resolve) => child.once('exit', resolve));
    void use(url, i).catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 200 + random() * 2500));
    child.kill('SIGKILL');
    await gone;
  }
  const { child, url } = await start(data);
  const jobs = async () =>
    (await (await fetch(`${url}/api/renders`)).json()) as {
      state: string;
      fileName: string | null;
      error: string | null;
    }[];
  await expect
    .poll(async () => (await jobs()).filter(({ state }) => state === 'running' || state === 'queued').length, {
      timeout: 300_000,
    })
    .toBe(0);
  for (const { state, fileName, error } of await jobs()) {
    expect(['done', 'failed']).toContain(state);
    if (state === 'failed') expect(error).toMatch(/\S/);
    else expect(await readPicture(join(data, 'outbox', fileName!))).toMatchObject({ width: 600, bits: 16 });
  }
  for (const file of await readdir(join(data, 'originals'), { recursive: true, withFileTypes: true })) {
    if (!file.isFile() || file.name.endsWith('.part')) continue;
    const bytes = await readFile(join(file.parentPath, file.name));
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(file.name);
  }
  const gone = new Promise((resolve) => child.once('exit', resolve));
  child.kill('SIGTERM');
  await gone;
  await rm(data, { recursive: true, force: true });
});
