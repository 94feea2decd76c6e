import { readdirSync, readFileSync } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { automaticCleaning, emptyPrescription, withCorrection } from '@vitrocept/core';
import { withPage } from './page';
import { Tally, type Outcome } from './outcome';
import { endServer, newShoot, ROOT, sendFile, sendJson, startServer } from './server';

/** After the first quarter, in which caches fill, memory may grow by this. */
const MOST_GROWTH = 1.1;
const FRAME = 'demo/frames/saltmere-0801.jpg';

/** What a process and all that it started keep in memory, MB; proc(5). */
function residentMb(pid: number): number {
  const parents = new Map<number, number>();
  for (const name of readdirSync('/proc').filter((entry) => /^\d+$/.test(entry))) {
    try {
      parents.set(Number(name), Number(readFileSync(`/proc/${name}/stat`, 'utf8').split(') ')[1].split(' ')[1]));
    } catch {
      // It ended meanwhile.
    }
  }
  const isOwn = (one: number): boolean => one === pid || (parents.has(one) && isOwn(parents.get(one)!));
  const kilobytes = [...parents.keys()].filter(isOwn).map((one) => {
    try {
      return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${one}/status`, 'utf8'))?.[1] ?? 0);
    } catch {
      return 0;
    }
  });
  return Math.round(kilobytes.reduce((sum, value) => sum + value, 0) / 1024);
}

/**
 * @param count - Renders by the server; the page's exposure is moved five times as often.
 */
export async function flatMemory(count: number): Promise<Outcome> {
  const data = await mkdtemp(join(tmpdir(), 'vitrocept-flat-'));
  const server = await startServer(data);
  const tally = new Tally();
  const judge = (what: string, marks: readonly number[]) => {
    const settled = marks.slice(Math.ceil(marks.length / 4));
    const [before, after] = [settled.slice(0, 2), settled.slice(-2)].map((two) => Math.max(...two));
    console.log(`  ${what}: ${marks.join(', ')} MB`);
    tally.add(after <= before * MOST_GROWTH ? null : `${what}: from ${before} to ${after} MB`);
  };
  try {
    const shoot = await newShoot(server.url, 'flat');
    const answer = await sendFile(
      `${server.url}/api/shoots/${shoot}/frames`,
      'frame.jpg',
      await readFile(join(ROOT, FRAME)),
    );
    const { id } = (await answer.json()) as { id: string };
    judge(`${count} renders`, await renders(server.url, server.child.pid!, id, count));
    await withPage(server.url, async (page, browserPid) => {
      judge(`${5 * count} moves of a slider`, await slides(page, browserPid, id, 5 * count));
    });
  } finally {
    await endServer(server);
    await rm(data, { recursive: true, force: true });
  }
  return tally.outcome;
}

async function renders(url: string, pid: number, id: string, count: number): Promise<number[]> {
  const marks: number[] = [];
  for (let i = 0; i < count; i++) {
    const prescription = withCorrection(
      { ...emptyPrescription(), cleaning: automaticCleaning(null) },
      'exposureEv',
      (i % 20) / 20,
    );
    const { saved } = (await (await fetch(`${url}/api/frames/${id}`)).json()) as { saved: { revision: number } };
    const put = await sendJson<{ revision: number }>(`${url}/api/frames/${id}/prescription`, 'PUT', {
      revision: saved.revision,
      prescription,
    });
    const job = await sendJson<{ id: string }>(`${url}/api/renders`, 'POST', {
      frameId: id,
      revision: put.revision,
      format: 'jpeg',
      quality: 90,
    });
    for (;;) {
      const jobs = (await (await fetch(`${url}/api/renders`)).json()) as { id: string; state: string; error: string }[];
      const own = jobs.find((one) => one.id === job.id)!;
      if (own.state === 'failed') throw new Error(own.error);
      if (own.state === 'done') break;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    if ((i + 1) % Math.max(1, Math.floor(count / 12)) === 0) marks.push(residentMb(pid));
  }
  return marks;
}

async function slides(page: Parameters<Parameters<typeof withPage>[1]>[0], pid: number, id: string, count: number) {
  await page.goto(`${new URL(page.url()).origin}/frames/${id}/corrections`);
  const slider = page.getByRole('slider', { name: 'Exposure', exact: true });
  await slider.focus();
  const marks: number[] = [];
  for (let i = 0; i < count; i++) {
    await slider.press(i % 40 < 20 ? 'ArrowRight' : 'ArrowLeft');
    if ((i + 1) % Math.max(1, Math.floor(count / 12)) === 0) {
      await page.waitForTimeout(500);
      const session = await page.context().newCDPSession(page);
      await session.send('HeapProfiler.collectGarbage');
      await session.detach();
      marks.push(residentMb(pid));
    }
  }
  return marks;
}
