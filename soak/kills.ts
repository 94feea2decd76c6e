import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
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
  readonly rounds: Set<string>;
  /** Names of the files laid into the watched folder. */
  readonly laid: Set<string>;
}

const SIDE = 600;

/** A watched folder and the shoot that its files go to. */
interface Watched {
  readonly inbox: string;
  readonly shootId: string;
}

async function watchedFolder(url: string): Promise<Watched> {
  const wish = { folder: 'Watched', shootId: await newShoot(url, 'watched'), keptId: null, format: 'png8' };
  return sendJson<Watched>(`${url}/api/hand-offs`, 'POST', wish);
}

/**
 * Lays a file into the watched folder, brings a frame in, saves twice, renders it and begins a round over it; notes
 * what was promised, until the server is gone.
 */
async function work(url: string, { inbox }: Watched, seed: number, promised: Promised): Promise<void> {
  const name = `laid-${seed}.png`;
  await writeFile(join(inbox, name), await smallPng(10_000 + seed, 64));
  promised.laid.add(name);
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
  const kept = (await (await fetch(`${url}/api/kept`)).json()) as { id: string; kept: { name: string } }[];
  const cleaning = kept.find(({ kept: { name: called } }) => /clean/i.test(called))!;
  const round = { keptId: cleaning.id, frameIds: [id], format: 'tiff16', folder: 'round' };
  promised.rounds.add((await sendJson<{ id: string }>(`${url}/api/rounds`, 'POST', round)).id);
}

const isGone = (error: Error) => error instanceof TypeError || /ECONN|terminated|fetch failed/.test(error.message);

/**
 * Kills the server without a word at random moments of its work, then looks whether everything it had promised is
 * there: each frame with its bytes and its last save, each render and each frame of a round done or failed with a
 * reason, each copy whole and there once, each file of the watched folder one frame.
 */
export async function kills(count: number, seed = 99): Promise<Outcome & { promisedFrames: number }> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-kill-'));
  const random = seeded(seed);
  const tally = new Tally();
  const promised: Promised = { frames: new Map(), renders: new Set(), rounds: new Set(), laid: new Set() };
  // How long all of the work takes here tells when to kill: on a slow machine later.
  const first = await startServer(data);
  const watched = await watchedFolder(first.url);
  const began = performance.now();
  await work(first.url, watched, count, promised);
  const workMs = performance.now() - began;
  await endServer(first);
  for (let i = 0; i < count; i++) {
    const server = await startServer(data);
    let refusal: string | null = null;
    const working = work(server.url, watched, i, promised).catch((error: Error) => {
      if (!isGone(error)) refusal = `kill ${i}: ${error.message}`;
    });
    await new Promise((resolve) => setTimeout(resolve, workMs * (0.2 + 4 * random())));
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
  for (const id of promised.rounds) for (const problem of await problemsOfRound(url, data, id)) tally.add(problem);
  for (const problem of await problemsOfWatched(url, watched, promised.laid)) tally.add(problem);
  const parts = (await readdir(data, { recursive: true })).filter((name) => name.endsWith('.part'));
  tally.add(parts.length === 0 ? null : `half-written files are left: ${parts.join(', ')}`);
  await endServer(server);
  await rm(data, { recursive: true, force: true });
  return { ...tally.outcome, promisedFrames: promised.frames.size };
}

const pause = () => new Promise((resolve) => setTimeout(resolve, 200));

/** Null for each thing that held. */
async function problemsOfRound(url: string, data: string, id: string): Promise<(string | null)[]> {
  interface Round {
    readonly counts: { readonly left: number };
    readonly jobs: readonly {
      readonly state: string;
      readonly fileName: string | null;
      readonly error: string | null;
    }[];
  }
  const asked = async () => {
    const answer = await fetch(`${url}/api/rounds/${id}`);
    return answer.ok ? ((await answer.json()) as Round) : null;
  };
  let round = await asked();
  while (round && round.counts.left > 0) {
    await pause();
    round = await asked();
  }
  if (!round) return [`round ${id} was promised and is lost`];
  return Promise.all(
    round.jobs.map(async ({ state, fileName, error }) => {
      if (state === 'failed') return /\S/.test(error ?? '') ? null : `a frame of round ${id} failed without a reason`;
      if (state !== 'done' || !fileName) return `a frame of round ${id} is ${state}`;
      return readPicture(join(data, 'outbox', fileName)).then(
        ({ width }) => (width === SIDE ? null : `${fileName} is not what was rendered`),
        (reason: Error) => `${fileName}: ${reason.message}`,
      );
    }),
  );
}

const MOST_WAIT_MS = 60_000;

async function problemsOfWatched(
  url: string,
  { inbox, shootId }: Watched,
  laid: ReadonlySet<string>,
): Promise<(string | null)[]> {
  const names = async () => {
    const { frames } = (await (await fetch(`${url}/api/shoots/${shootId}`)).json()) as { frames: { name: string }[] };
    return frames.map(({ name }) => name);
  };
  const from = performance.now();
  const areIn = async () => {
    const own = await names();
    return [...laid].every((name) => own.includes(name));
  };
  while (!(await areIn()) && performance.now() - from < MOST_WAIT_MS) await pause();
  const own = await names();
  const left = (await readdir(inbox)).filter((name) => laid.has(name));
  return [
    ...[...laid].map((name) => {
      const times = own.filter((other) => other === name).length;
      return times === 1 ? null : `${name} became ${times} frames`;
    }),
    left.length === 0 ? null : `left in the watched folder: ${left.join(', ')}`,
  ];
}
