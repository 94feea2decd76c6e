import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { emptyPrescription } from '@vitrocept/core';
import { readPicture } from '@vitrocept/files';
import { seeded, Tally, type Outcome } from './outcome';
import { smallPng } from './pictures';
import { endServer, newShoot, sendFile, sendJson, startServer } from './server';

/** What the server had said is done before it was killed: it must be there ever after. */
interface Promised {
  readonly frames: Map<string, { readonly sha256: string; revision: number; opacity: number }>;
  readonly renders: Set<string>;
}

const SIDE = 600;

/** Brings a frame in, saves twice and renders it; notes what was promised, until the server is gone. */
async function work(url: string, seed: number, promised: Promised): Promise<void> {
  const shoot = await newShoot(url, `kill ${seed}`);
  const bytes = await smallPng(seed, SIDE);
  const answer = await sendFile(`${url}/api/shoots/${shoot}/frames`, `frame-${seed}.png`, bytes);
  if (answer.status !== 201) throw new Error(`an upload was answered ${answer.status}`);
  const { id } = (await answer.json()) as { id: string };
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const frame = { sha256, revision: 0, opacity: 100 };
  promised.frames.set(id, frame);
  for (const opacityPercent of [seed % 90, (seed * 7) % 90]) {
    const empty = emptyPrescription();
    const prescription = { ...empty, mask: { ...empty.mask, opacityPercent } };
    const body = { revision: frame.revision, prescription };
    const { revision } = await sendJson<{ revision: number }>(`${url}/api/frames/${id}/prescription`, 'PUT', body);
    Object.assign(frame, { revision, opacity: opacityPercent });
  }
  const wish = { frameId: id, revision: frame.revision, format: 'tiff16' };
  promised.renders.add((await sendJson<{ id: string }>(`${url}/api/renders`, 'POST', wish)).id);
}

const isGone = (error: Error) => error instanceof TypeError || /ECONN|terminated|fetch failed/.test(error.message);

/**
 * Kills the server without a word at random moments of its work, then looks whether everything it had promised is
 * there: each frame with its bytes and its last save, each render done, waiting or failed with a reason, each copy whole.
 */
export async function kills(count: number, seed = 99): Promise<Outcome & { promisedFrames: number }> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-kill-'));
  const random = seeded(seed);
  const tally = new Tally();
  const promised: Promised = { frames: new Map(), renders: new Set() };
  // How long all of the work takes here tells when to kill: on a slow machine later.
  const first = await startServer(data);
  const began = performance.now();
  await work(first.url, count, promised);
  const workMs = performance.now() - began;
  await endServer(first);
  for (let i = 0; i < count; i++) {
    const server = await startServer(data);
    let refusal: string | null = null;
    const working = work(server.url, i, promised).catch((error: Error) => {
      if (!isGone(error)) refusal = `kill ${i}: ${error.message}`;
    });
    await new Promise((resolve) => setTimeout(resolve, workMs * (0.1 + 1.3 * random())));
    await endServer(server, 'SIGKILL');
    await working;
    tally.add(refusal);
  }
  const server = await startServer(data);
  const { url } = server;
  interface Job {
    readonly id: string;
    readonly state: string;
    readonly fileName: string | null;
    readonly error: string | null;
  }
  const jobs = async () => (await (await fetch(`${url}/api/renders`)).json()) as Job[];
  while ((await jobs()).some(({ state }) => state === 'running' || state === 'queued'))
    await new Promise((resolve) => setTimeout(resolve, 200));
  const ended = new Map((await jobs()).map((job) => [job.id, job]));
  for (const id of promised.renders) tally.add(ended.has(id) ? null : `render ${id} was promised and is lost`);
  for (const { id, state, fileName, error } of ended.values()) {
    if (state === 'failed') tally.add(/\S/.test(error ?? '') ? null : `render ${id} failed without a reason`);
    else if (state !== 'done') tally.add(`render ${id} is ${state}`);
    else {
      const problem = await readPicture(join(data, 'outbox', fileName!)).then(
        ({ width, bits }) => (width === SIDE && bits === 16 ? null : `${fileName} is not what was rendered`),
        (reason: Error) => `${fileName}: ${reason.message}`,
      );
      tally.add(problem);
    }
  }
  for (const [id, { sha256, revision, opacity }] of promised.frames) {
    const answer = await fetch(`${url}/api/frames/${id}`);
    const { saved } = answer.ok
      ? ((await answer.json()) as { saved: { revision: number; prescription: ReturnType<typeof emptyPrescription> } })
      : { saved: null };
    const found = saved?.prescription.mask.opacityPercent;
    // A save that was under way when the server was killed may have been done: then it is the one after.
    const isThere =
      saved && (saved.revision > revision || (saved.revision === revision && (revision === 0 || found === opacity)));
    tally.add(isThere ? null : `frame ${id}: saved was revision ${revision}, there is ${saved?.revision}`);
    const original = await readFile(join(data, 'originals', sha256.slice(0, 2), sha256)).catch(() => null);
    const hash = original && createHash('sha256').update(original).digest('hex');
    tally.add(hash === sha256 ? null : `the original of frame ${id} is not what came in`);
  }
  const parts = (await readdir(data, { recursive: true })).filter((name) => name.endsWith('.part'));
  tally.add(parts.length === 0 ? null : `half-written files are left: ${parts.join(', ')}`);
  await endServer(server);
  await rm(data, { recursive: true, force: true });
  return { ...tally.outcome, promisedFrames: promised.frames.size };
}
