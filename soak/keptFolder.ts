import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { automaticRecovery, usualWays, type Prescription } from '@vitrocept/core';
import { endServer, newShoot, ROOT, sendFile, sendJson, startServer } from './server';

/** What a kept data folder held when it was made: so a later version can be held against it. */
export interface KeptFolder {
  readonly madeBy: string;
  readonly frame: { readonly id: string; readonly sha256: string; readonly revision: number };
  readonly prescription: Prescription;
  /** Of the rendered copy's pixels. */
  readonly pixels: string;
  readonly copy: string;
  readonly kept: string;
  readonly rounds: number;
}

export const pixelsOf = async (path: string): Promise<string> =>
  createHash('sha256')
    .update(await sharp(path).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer())
    .digest('hex');

const pause = () => new Promise((resolve) => setTimeout(resolve, 300));

/**
 * Makes a small data folder by the real server, as a person would have left it, and packs it: a frame that was looked
 * after, a trial chosen, a copy rendered, a prescription kept, a round done. Made once for every version that changes
 * what is stored; never made anew. Usage: node --import tsx soak/keptFolder.ts NAME.
 */
async function make(name: string): Promise<void> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-kept-'));
  const server = await startServer(data);
  const { url } = server;
  const get = async <T>(path: string) => (await (await fetch(`${url}${path}`)).json()) as T;
  const shoot = await newShoot(url, 'Kept from an earlier version');
  const bytes = await sharp(join(ROOT, 'demo/frames/saltmere-0704.tif'))
    .extract({ left: 430, top: 260, width: 240, height: 200 })
    .toColourspace('srgb')
    .jpeg({ quality: 95, chromaSubsampling: '4:4:4' })
    .toBuffer();
  const sent = await sendFile(`${url}/api/shoots/${shoot}/frames`, 'kept.jpg', bytes);
  const { id } = (await sent.json()) as { id: string };
  const state = async () => (await get<{ frames: { state: string }[] }>(`/api/shoots/${shoot}`)).frames[0].state;
  while ((await state()) !== 'sorted') await pause();
  await fetch(`${url}/api/frames/${id}/look-after`, { method: 'POST' });
  while ((await state()) !== 'done') await pause();
  const { saved } = await get<{ saved: { revision: number; prescription: Prescription } }>(`/api/frames/${id}`);
  const { proposed: _, ...own } = saved.prescription;
  const recovery = automaticRecovery('missed-focus', own.reading, 70);
  const prescription: Prescription = {
    ...own,
    trials: [{ id: 'chosen', ...recovery }],
    recovery: { ...recovery, trialId: 'chosen' },
  };
  const body = { revision: saved.revision, prescription };
  const { revision } = await sendJson<{ revision: number }>(`${url}/api/frames/${id}/prescription`, 'PUT', body);
  const kept = 'As the puppet’s eye';
  const { id: keptId } = await sendJson<{ id: string }>(`${url}/api/frames/${id}/keep`, 'POST', {
    name: kept,
    ways: usualWays(prescription),
  });
  await sendJson(`${url}/api/renders`, 'POST', { frameId: id, revision, format: 'png16' });
  const round = await sendJson<{ id: string }>(`${url}/api/rounds`, 'POST', {
    keptId,
    frameIds: [id],
    format: 'jpeg',
  });
  type Job = { state: string; fileName: string | null };
  const jobs = () => get<Job[]>('/api/renders');
  while ((await jobs()).some((job) => job.state !== 'done')) await pause();
  const left = async () => (await get<{ counts: { left: number } }>(`/api/rounds/${round.id}`)).counts.left;
  while ((await left()) > 0) await pause();
  const copy = (await jobs())[0].fileName!;
  await endServer(server);
  await rm(join(data, 'derived'), { recursive: true, force: true });
  await rm(join(data, 'backups'), { recursive: true, force: true });
  const { version } = JSON.parse(await readFile(join(ROOT, 'package.json'), 'utf8')) as { version: string };
  const known: KeptFolder = {
    madeBy: version,
    frame: { id, sha256: createHash('sha256').update(bytes).digest('hex'), revision },
    prescription,
    pixels: await pixelsOf(join(data, 'outbox', copy)),
    copy,
    kept,
    rounds: 1,
  };
  await writeFile(join(ROOT, 'soak/kept', `${name}.json`), `${JSON.stringify(known, null, 1)}\n`);
  execFileSync('tar', ['-czf', join(ROOT, 'soak/kept', `${name}.tar.gz`), '-C', data, '.']);
  await rm(data, { recursive: true, force: true });
}

if (process.argv[1]?.endsWith('keptFolder.ts')) await make(process.argv[2]);
