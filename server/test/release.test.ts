import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Prescription } from '@vitrocept/core';
import { pixelsOf, type KeptFolder } from '../../soak/keptFolder';
import { endServer, ROOT, sendJson, startServer, type RunningServer } from '../../soak/server';

const KEPT = join(ROOT, 'soak/kept');
const NAME = 'data-0.1.0';
const known = JSON.parse(readFileSync(join(KEPT, `${NAME}.json`), 'utf8')) as KeptFolder;

/** What the lock file puts where. */
function lockedIn(folder: string): Record<string, { dev: boolean; link: boolean }> {
  const { packages } = JSON.parse(readFileSync(join(folder, 'package-lock.json'), 'utf8')) as {
    packages: Record<string, { dev?: boolean; link?: boolean }>;
  };
  return Object.fromEntries(
    Object.entries(packages).map(([path, { dev = false, link = false }]) => [path, { dev, link }]),
  );
}

let folder: string;
let release: string;
let data: string;
let server: RunningServer;
const get = async <T>(path: string) => (await (await fetch(`${server.url}${path}`)).json()) as T;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'vitrocept-release-'));
  const said = execFileSync('node', ['scripts/bundle.mjs', join(folder, 'made')], { cwd: ROOT, encoding: 'utf8' });
  execFileSync('tar', ['-xzf', said.trim().split('\n').at(-1)!, '-C', folder]);
  release = join(
    folder,
    readdirSync(folder).find((name) => name.startsWith('vitrocept-'))!,
  );
  // As `npm ci --omit=dev` would put them there.
  mkdirSync(join(release, 'node_modules', '@vitrocept'), { recursive: true });
  for (const [path, { dev = false, link = false }] of Object.entries(lockedIn(release))) {
    if (dev || link || !/^node_modules\/(@[^/]+\/)?[^/]+$/.test(path) || !existsSync(join(ROOT, path))) continue;
    mkdirSync(dirname(join(release, path)), { recursive: true });
    symlinkSync(join(ROOT, path), join(release, path));
  }
  symlinkSync(join(release, 'kernels'), join(release, 'node_modules', '@vitrocept', 'kernels'));
  data = join(folder, 'data');
  mkdirSync(data);
  execFileSync('tar', ['-xzf', join(KEPT, `${NAME}.tar.gz`), '-C', data]);
  server = await startServer(data, {}, release);
});
afterAll(async () => {
  await endServer(server);
  rmSync(folder, { recursive: true, force: true });
});

it('a release holds no sources and asks for no package that is not installed with it', () => {
  const files = readdirSync(release, { recursive: true, encoding: 'utf8' }).filter(
    (name) => !/node_modules/.test(name),
  );
  expect(files.filter((name) => /\.tsx?$/.test(name))).toEqual([]);
  expect(files).toEqual(expect.arrayContaining(['CHANGELOG.md', 'docs/licences.md', 'web/dist/index.html']));
  const locked = lockedIn(release);
  const asked = readdirSync(join(release, 'dist/node'))
    .filter((name) => name.endsWith('.js'))
    .flatMap((name) => [...readFileSync(join(release, 'dist/node', name), 'utf8').matchAll(/from "([^."][^"]*)"/g)])
    .map(([, name]) => name)
    .filter((name) => !name.startsWith('node:'));
  expect(asked.length).toBeGreaterThan(10);
  // Built, they are looked for at the top: what lies below a part is another version.
  for (const name of asked) expect(locked[`node_modules/${name}`], name).toMatchObject({ dev: false });
});

it('it serves the page, and a data folder of an earlier version with all that was in it', async () => {
  expect(await (await fetch(`${server.url}/`)).text()).toMatch(/<title>Vitrocept/);
  const { saved, name } = await get<{ name: string; saved: { revision: number; prescription: Prescription } }>(
    `/api/frames/${known.frame.id}`,
  );
  expect(name).toBe('kept.jpg');
  expect(saved.revision).toBe(known.frame.revision);
  expect(saved.prescription.recovery).toEqual(known.prescription.recovery);
  expect(saved.prescription.trials).toEqual(known.prescription.trials);
  expect(saved.prescription.reading).toEqual(known.prescription.reading);
  const original = Buffer.from(
    await (await fetch(`${server.url}/api/frames/${known.frame.id}/original`)).arrayBuffer(),
  );
  expect(createHash('sha256').update(original).digest('hex')).toBe(known.frame.sha256);
  const kept = await get<{ kept: { name: string } }[]>('/api/kept');
  expect(kept.map((one) => one.kept.name)).toContain(known.kept);
  expect(await get<unknown[]>('/api/rounds')).toHaveLength(known.rounds);
});

it('the earlier version’s prescription still renders to the same pixels', async () => {
  const { id, revision } = known.frame;
  const wish = { frameId: id, revision, format: 'png16' };
  const { id: jobId } = await sendJson<{ id: string }>(`${server.url}/api/renders`, 'POST', wish);
  type Job = { id: string; state: string; fileName: string | null; error: string | null };
  const job = async () => (await get<Job[]>('/api/renders')).find((one) => one.id === jobId)!;
  while (['queued', 'running'].includes((await job()).state)) await new Promise((resolve) => setTimeout(resolve, 100));
  const done = await job();
  expect(done.error).toBeNull();
  expect(done.fileName).not.toBe(known.copy);
  expect(await pixelsOf(join(data, 'outbox', done.fileName!))).toBe(known.pixels);
});
