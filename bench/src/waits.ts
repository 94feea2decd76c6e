import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { loadavg, tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { automaticCleaning } from '@vitrocept/core';
import { withFreshPage } from './freshPage';
import { softDng } from './softDng';
import { softFrame, SOFT_SIZE as SIZE } from './softFrame';

const NAME = 'waited-for.jpg';

interface Wait {
  readonly name: string;
  readonly goal: string;
  readonly seconds: number;
}

/** What a person waits for with a frame of 24 megapixels, in the real page and server, wall time. */
export async function waits(part: string | null): Promise<void> {
  const buffer = await softFrame();
  console.log(`load ${loadavg()[0].toFixed(2)}, ${SIZE.width} × ${SIZE.height}`);
  if (part !== 'raw') await withFreshPage((page) => jpegWaits(page, buffer));
  await withFreshPage((page) => rawWaits(page, buffer));
}

async function jpegWaits(page: Page, buffer: Buffer): Promise<void> {
  const told = (wait: Wait) =>
    console.log(wait.name.padEnd(56), `${wait.seconds.toFixed(1)} s`.padStart(8), ` wanted ${wait.goal}`);
  const began = performance.now();
  const since = (from: number) => (performance.now() - from) / 1000;
  await page.getByLabel('Files to bring in').setInputFiles([{ name: NAME, mimeType: 'image/jpeg', buffer }]);
  const card = page.getByRole('link', { name: NAME });
  await card.waitFor({ timeout: 300_000 });
  await card.click();
  await page.locator('canvas').first().waitFor();
  await gone(page, 'loading the picture');
  told({ name: 'dropped → picture large on screen', goal: '1.5 s', seconds: since(began) });
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  const frame = () => json<FrameAnswer>(page, `/api/frames/${id}`);
  await until(async () => (await frame()).firstReading.state !== 'waiting');
  told({ name: 'dropped → in its pile', goal: '2 CPU s', seconds: since(began) });
  await page.getByRole('link', { name: /^Trials/ }).click();
  const trial = page.getByRole('img', { name: 'Trial A at probe 1' });
  const nothing = page.getByRole('region', { name: 'Nothing to recover' });
  await trial.or(nothing).waitFor({ timeout: 300_000 });
  if (await nothing.isVisible()) throw new Error('The frame was left alone: nothing can be timed.');
  const first = page.locator('.wall-cell', { has: trial });
  await until(async () => (await first.getAttribute('data-state')) === 'current');
  told({ name: 'dropped → first recovery of the subject drawn, no press', goal: '10 s', seconds: since(began) });

  await settled(page);
  const { saved } = await frame();
  const { prescription } = saved;
  const reload = performance.now();
  await page.reload();
  await until(async () => (await first.getAttribute('data-state').catch(() => null)) === 'current');
  told({ name: 'opened again → first recovery drawn', goal: 'at once', seconds: since(reload) });

  const read = performance.now();
  await send(page, `/api/frames/${id}/reading`, { box: null, mask: prescription.mask.operations });
  told({ name: 'Reading over the mask', goal: '4 s, 6 s with a shake', seconds: since(read) });

  const press = performance.now();
  await page.getByRole('button', { name: 'Strongest safe amount' }).click();
  await gone(page, 'looking at the probes');
  told({ name: 'strongest safe amount', goal: '3 s', seconds: since(press) });

  const { id: trialId, ...own } = prescription.trials[0];
  // What the page goes on drawing by itself, the whole subject above all, is not to be waited for.
  await page.goto(new URL('/renders', page.url()).href);
  const recovered = { ...prescription, recovery: { ...own, trialId } };
  told({ name: 'render under the mask', goal: '12 s', seconds: await rendered(page, id, recovered) });
  const everywhere = { ...prescription.mask, operations: [] };
  const cleaned = { ...prescription, mask: everywhere, recovery: null, cleaning: automaticCleaning(null) };
  told({ name: 'render, cleaned all over', goal: '20 s', seconds: await rendered(page, id, cleaned) });
}

/** The same photograph as a sensor writes it. */
async function rawWaits(page: Page, jpeg: Buffer): Promise<void> {
  const name = 'waited-for.dng';
  // Larger than what may be handed over by itself.
  const folder = await mkdtemp(join(tmpdir(), 'vitrocept-waits-'));
  const path = join(folder, name);
  await writeFile(path, await softDng(jpeg));
  const began = performance.now();
  const told = (what: string, goal: string) =>
    console.log(what.padEnd(56), `${((performance.now() - began) / 1000).toFixed(1)} s`.padStart(8), ` wanted ${goal}`);
  await page.getByLabel('Files to bring in').setInputFiles([path]);
  await page.getByAltText(/as its camera showed it/).waitFor({ timeout: 60_000 });
  told('raw dropped → embedded picture', '1 s');
  const card = page.getByRole('link', { name });
  await card.waitFor({ timeout: 300_000 });
  await card.click();
  await page.locator('canvas').first().waitFor();
  await gone(page, 'loading the picture');
  told('raw dropped → picture large on screen', '4 s');
  await rm(folder, { recursive: true });
}

interface FrameAnswer {
  readonly firstReading: { readonly state: string };
  readonly saved: {
    readonly revision: number;
    readonly prescription: {
      readonly mask: { readonly operations: readonly object[] };
      readonly trials: readonly { readonly id: string }[];
    };
  };
}

async function rendered(page: Page, id: string, prescription: object): Promise<number> {
  const revision = async () => (await json<FrameAnswer>(page, `/api/frames/${id}`)).saved.revision;
  await send(page, `/api/frames/${id}/prescription`, { revision: await revision(), prescription }, 'PUT');
  const began = performance.now();
  await send(page, '/api/renders', { frameId: id, revision: await revision(), format: 'jpeg', quality: 90 });
  interface Job {
    readonly frameId: string;
    readonly state: string;
    readonly error: string | null;
  }
  await until(async () => {
    const [last] = await json<readonly Job[]>(page, '/api/renders');
    if (last.state === 'failed') throw new Error(last.error ?? 'failed');
    return last.state === 'done';
  });
  return (performance.now() - began) / 1000;
}

const json = <T>(page: Page, path: string) =>
  page.evaluate(async (at) => (await fetch(at)).json() as Promise<unknown>, path) as Promise<T>;

const send = (page: Page, path: string, body: object, method = 'POST') =>
  page.evaluate(
    async ([at, verb, text]) => {
      const answer = await fetch(at, { method: verb, headers: { 'content-type': 'application/json' }, body: text });
      if (!answer.ok) throw new Error(`${at}: ${await answer.text()}`);
    },
    [path, method, JSON.stringify(body)] as const,
  );

const settled = (page: Page) =>
  until(
    async () => (await page.locator('.wall-cell:not([data-state="current"]):not([data-state="draft"])').count()) === 0,
  );

async function gone(page: Page, text: string): Promise<void> {
  await until(async () => (await page.getByText(text).count()) === 0);
}

async function until(holds: () => Promise<boolean>): Promise<void> {
  while (!(await holds())) await new Promise((resolve) => setTimeout(resolve, 100));
}
