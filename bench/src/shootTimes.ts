import { readdirSync, readFileSync } from 'node:fs';
import { loadavg } from 'node:os';
import { join } from 'node:path';
import { withFreshServer } from './freshServer';
import { serverAt, until, type Server } from './serverAt';
import { softFrame } from './softFrame';
import { ROOT } from './root';

const FRAMES = 40;
const WHOLE_SHOOT = 500;
const ROUND_FRAMES = 12;

interface Answer {
  readonly id: string;
  readonly frames: readonly { readonly id: string; readonly name: string; readonly state: string }[];
}
interface Kept {
  readonly id: string;
  readonly kept: { readonly name: string };
}
interface RoundAnswer {
  readonly id: string;
  readonly state: string;
  readonly secondsLeft: number | null;
  readonly counts: { readonly left: number; readonly done: number };
  readonly jobs: readonly { readonly id: string; readonly frameId: string; readonly state: string }[];
}

/**
 * A shoot of 24-megapixel frames sorted, and a round over the demo frames: the floors of many frames.
 *
 * @param part - `sorted`: no round; `round`: nothing is sorted; `large`: the same, over frames of 24 megapixels.
 */
export async function shootTimes(part: string | null): Promise<void> {
  console.log(`load ${loadavg()[0].toFixed(2)}`);
  await withFreshServer(async (url, pid) => {
    const server = serverAt(url, pid);
    if (part === null || part === 'sorted') await sorted(server);
    if (part !== 'sorted') await round(server, part === 'large' ? await largeFrames() : demoFrames());
  });
}

interface File {
  readonly name: string;
  readonly bytes: Buffer;
}

function demoFrames(): File[] {
  const folder = join(ROOT, 'demo', 'frames');
  const names = readdirSync(folder).sort().slice(0, ROUND_FRAMES);
  return names.map((name) => ({ name, bytes: readFileSync(join(folder, name)) }));
}

async function largeFrames(): Promise<File[]> {
  const base = await softFrame();
  return Array.from({ length: ROUND_FRAMES }, (_, i) => ({
    name: `large-${i}.jpg`,
    bytes: withComment(base, 100 + i),
  }));
}

async function sorted(server: Server): Promise<void> {
  const { id } = await server.send<Answer>('POST', '/api/shoots', { name: 'Forty large frames' });
  const base = await softFrame();
  for (let i = 0; i < FRAMES; i++)
    await server.upload(id, `large-${String(i).padStart(2, '0')}.jpg`, withComment(base, i));
  const began = performance.now();
  const cpu = server.cpuSeconds();
  const before = (await server.get<Answer>(`/api/shoots/${id}`)).frames.filter(
    ({ state }) => state !== 'waiting',
  ).length;
  const waits: number[] = [];
  for (;;) {
    const asked = performance.now();
    const { frames } = await server.get<Answer>(`/api/shoots/${id}`);
    waits.push(performance.now() - asked);
    if (frames.every(({ state }) => state !== 'waiting')) break;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
  const [wall, spent] = [(performance.now() - began) / 1000, server.cpuSeconds() - cpu];
  const each = wall / (FRAMES - before);
  waits.sort((a, b) => a - b);
  console.log(
    `sorted after the last byte: ${FRAMES - before} frames in ${wall.toFixed(0)} s, ${(spent / (FRAMES - before)).toFixed(1)} CPU s a frame`,
  );
  console.log(
    `500 frames, none sorted when the last byte came: ${((each * WHOLE_SHOOT) / 60).toFixed(1)} min (wanted 20)`,
  );
  console.log(
    `the sheet answers meanwhile: median ${at(waits, 0.5).toFixed(0)} ms, 95 % ${at(waits, 0.95).toFixed(0)} ms, worst ${at(waits, 1).toFixed(0)} ms (wanted 100)`,
  );
}

async function round(server: Server, files: readonly File[]): Promise<void> {
  const { id } = await server.send<Answer>('POST', '/api/shoots', { name: 'A round' });
  for (const { name, bytes } of files) await server.upload(id, name, bytes);
  const { frames } = await server.get<Answer>(`/api/shoots/${id}`);
  for (const frame of frames) await server.send('POST', `/api/frames/${frame.id}/look-after`, {});
  await until(async () =>
    (await server.get<Answer>(`/api/shoots/${id}`)).frames.every(({ state }) => state === 'done'),
  );
  const kept = (await server.get<readonly Kept[]>('/api/kept')).find(({ kept: { name } }) =>
    /^Recover the subject/.test(name),
  )!;
  const cpu = server.cpuSeconds();
  const begun = await server.send<RoundAnswer>('POST', '/api/rounds', {
    keptId: kept.id,
    frameIds: frames.map((frame) => frame.id),
    format: 'tiff16',
  });
  const began = performance.now();
  let told: { readonly at: number; readonly left: number } | null = null;
  let now = begun;
  for (;;) {
    now = await server.get<RoundAnswer>(`/api/rounds/${begun.id}`);
    if (!told && now.counts.done >= 10 && now.secondsLeft !== null)
      told = { at: performance.now(), left: now.secondsLeft };
    if (now.counts.left === 0) break;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  const [wall, spent] = [(performance.now() - began) / 1000, server.cpuSeconds() - cpu];
  console.log(`a round of ${frames.length} looked-after frames: ${wall.toFixed(0)} s, ${spent.toFixed(0)} CPU s`);
  if (told) {
    console.log(
      `time left after ten frames: said ${told.left.toFixed(0)} s, was ${((performance.now() - told.at) / 1000).toFixed(0)} s`,
    );
  }
  // The same prescriptions rendered by hand.
  for (const job of now.jobs.filter(({ state }) => state === 'done')) {
    await server.send('POST', `/api/round-jobs/${job.id}/open`, {}).catch(() => undefined);
  }
  const rest = server.cpuSeconds();
  for (const frame of frames) {
    const { saved } = await server.get<{ saved: { revision: number } }>(`/api/frames/${frame.id}`);
    await server.send('POST', '/api/renders', { frameId: frame.id, revision: saved.revision, format: 'tiff16' });
  }
  await until(async () =>
    (await server.get<readonly { state: string }[]>('/api/renders')).every(
      ({ state }) => state === 'done' || state === 'failed',
    ),
  );
  const alone = server.cpuSeconds() - rest;
  console.log(
    `their renders alone: ${alone.toFixed(0)} CPU s; the round costs ${(100 * (spent / alone - 1)).toFixed(0)} % more (wanted 10)`,
  );
}

const at = (sorted: readonly number[], share: number) =>
  sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];

/** Another file of the same picture: a comment segment after the start of the JPEG. */
function withComment(jpeg: Buffer, number: number): Buffer {
  const text = Buffer.from(`frame ${number}`);
  const head = Buffer.from([0xff, 0xfe, 0, text.length + 2]);
  return Buffer.concat([jpeg.subarray(0, 2), head, text, jpeg.subarray(2)]);
}
