import { readFile } from 'node:fs/promises';
import { loadavg } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import { TILE_PX } from '@vitrocept/core';
import { bringIn, withFreshPage } from './freshPage';
import { ROOT } from './root';

const ROUNDS = 7;
const PROBES = 8;

/** Eight places; `spread` px between their middles, from `first` on: four across, two down. */
const PLACES = [
  { name: '96 px, as they may lie', size: 96, first: [230, 190], spread: [190, 260] },
  { name: '192 px, as they may lie', size: 192, first: [230, 190], spread: [250, 260] },
  { name: '192 px, each inside a tile of its own', size: 192, first: [128, 128], spread: [TILE_PX, TILE_PX] },
] as const;

/**
 * In the real page, of one trial at eight probes: from a change of its blur size to the first draft and the last audit.
 */
export async function wallTimes(): Promise<void> {
  const file = await readFile(join(ROOT, 'demo', 'frames', 'saltmere-0413.jpg'));
  await withFreshPage(async (page) => {
    await bringIn(page, 'saltmere-0413.jpg', file);
    await page.getByRole('link', { name: /^Trials/ }).click();
    const settings = page.url();
    for (const { name, size, first, spread } of PLACES) {
      const probes = Array.from({ length: PROBES }, (_, i) => ({
        id: `p${i}`,
        name: '',
        x: first[0] + (i % 4) * spread[0],
        y: first[1] + Math.floor(i / 4) * spread[1],
        size,
      }));
      await saveProbes(page, probes);
      await page.goto(settings);
      const { drafts, finals } = await changes(page);
      console.log(
        `eight probes of ${name}: first draft ${drafts} ms, all final and audited ${finals} ms (medians of ${ROUNDS - 1}, load ${loadavg()[0].toFixed(2)})`,
      );
    }
  });
}

/** Puts the probes and one trial into the frame's prescription, as the page itself saves it. */
async function saveProbes(page: Page, probes: readonly object[]): Promise<void> {
  if ((await page.locator('button.trial-head').count()) === 0) {
    await page.getByRole('button', { name: 'All methods on Automatic' }).click();
    await page.locator('button.trial-head').first().waitFor();
    await page.waitForTimeout(2000);
  }
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  await page.evaluate(
    async ([frame, list]: readonly [string, readonly object[]]) => {
      const at = `/api/frames/${frame}`;
      interface Saved {
        revision: number;
        prescription: { trials: { method: string }[] };
      }
      const { saved } = (await (await fetch(at)).json()) as { saved: Saved };
      const trials = saved.prescription.trials.filter(({ method }) => method === 'missed-focus');
      const prescription = { ...saved.prescription, trials, probes: list };
      const answer = await fetch(`${at}/prescription`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ revision: saved.revision, prescription }),
      });
      if (!answer.ok) throw new Error(await answer.text());
    },
    [id, probes] as const,
  );
}

const SETTLED = `document.querySelectorAll('.wall-cell').length > 0
  && document.querySelectorAll('.wall-cell:not([data-state="current"])').length === 0
  && !document.body.innerText.includes('being audited')`;

/** The page looks at its own cells in the frame after each of their changes, so that waiting for it costs nothing. */
const WATCH = `{
  window.changeTimes = null;
  let [times, began, hasStarted, isLooking] = [null, 0, false, false];
  const look = () => {
    isLooking = false;
    if (!times || times.finals !== null) return;
    const open = [...document.querySelectorAll('.wall-cell:not([data-state="current"])')];
    const audits = [...document.querySelectorAll('.text-soft')].some((mark) => mark.textContent === 'being audited');
    hasStarted ||= open.length > 0 || audits;
    if (!hasStarted) return;
    const passed = performance.now() - began;
    if (times.draft === null && (open.length === 0 || open.some((cell) => cell.dataset.state === 'draft'))) times.draft = passed;
    if (open.length === 0 && !audits) times.finals = passed;
  };
  const changed = () => {
    if (isLooking || !times) return;
    isLooking = true;
    requestAnimationFrame(look);
  };
  const cells = { subtree: true, childList: true, characterData: true, attributes: true, attributeFilter: ['data-state'] };
  new MutationObserver(changed).observe(document.body, cells);
  document.addEventListener('input', () => {
    times = { draft: null, finals: null };
    [began, hasStarted, window.changeTimes] = [performance.now(), false, times];
  }, true);
}`;

async function changes(page: Page): Promise<{ drafts: number; finals: number }> {
  await page.locator('button.trial-head').first().click();
  await until(page, SETTLED);
  await page.evaluate(WATCH);
  const slider = page.getByRole('slider', { name: 'Blur size' });
  const times: { draft: number; finals: number }[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    await slider.press('ArrowRight');
    await until(page, 'window.changeTimes !== null && window.changeTimes.finals !== null');
    times.push(await page.evaluate<{ draft: number; finals: number }>('window.changeTimes'));
  }
  // The first round warms up.
  const middle = (pick: (time: { draft: number; finals: number }) => number) =>
    Math.round(
      times
        .slice(1)
        .map(pick)
        .sort((a, b) => a - b)[(ROUNDS - 1) >> 1],
    );
  return { drafts: middle(({ draft }) => draft), finals: middle(({ finals }) => finals) };
}

/** The page's own rules forbid it to evaluate text; the browser's protocol does not. */
async function until(page: Page, condition: string): Promise<void> {
  while (!(await page.evaluate<boolean>(condition))) await page.waitForTimeout(200);
}
