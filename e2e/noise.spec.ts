import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Locator } from '@playwright/test';
import { takeProposalsAway } from './proposals';
import { DEMO, expect, ROOT, test } from './server';

interface Saved {
  readonly cleaning: {
    readonly luminance: { readonly value: number; readonly auto: boolean };
    readonly channelPercents: readonly number[];
    readonly band: readonly number[] | null;
  } | null;
  readonly trials: readonly { readonly noiseGuard: { readonly value: number; readonly auto: boolean } }[];
}

/** Mean level and mean difference of neighbours of what a canvas shows. */
async function look(cell: Locator): Promise<{ mean: number; rough: number }> {
  const { data, info } = await sharp(await cell.screenshot())
    .removeAlpha()
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  let [sum, rough] = [0, 0];
  for (let y = 0; y < 120; y++) {
    for (let x = 1; x < info.width - 1; x++) {
      sum += data[y * info.width + x];
      rough += Math.abs(data[y * info.width + x] - data[y * info.width + x - 1]);
    }
  }
  const count = 120 * (info.width - 2);
  return { mean: sum / count, rough: rough / count };
}

test('noise: cleaned at the probes, checked, compared, held to shadows, balanced with recovery, handed over as pages', async ({
  page,
  server,
}) => {
  const grainy = await sharp(join(DEMO, 'frames', 'saltmere-0418.jpg'))
    .extract({ left: 500, top: 300, width: 750, height: 500 })
    .png()
    .toBuffer();
  await page.goto(server.url);
  await page
    .getByLabel('Files to bring in')
    .setInputFiles([{ name: 'grainy.png', mimeType: 'image/png', buffer: grainy }]);
  await page.getByRole('link', { name: /grainy\.png/ }).click();
  await takeProposalsAway(page);
  await page.getByRole('link', { name: /^Noise/ }).click();
  await expect(page.getByText('% at mid-tone')).toBeVisible();
  const saved = async () => {
    await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
    const id = /frames\/([^/]+)/.exec(page.url())![1];
    const answer = await page.request.get(`${server.url}/api/frames/${id}`);
    return ((await answer.json()) as { saved: { prescription: Saved } }).saved.prescription;
  };

  await expect(page.getByText('Place a probe first')).toBeVisible();
  const map = (await page.locator('.overview-map').boundingBox())!;
  for (const [x, y] of [
    [0.3, 0.4],
    [0.75, 0.3],
  ]) {
    await page.mouse.click(map.x + x * map.width, map.y + y * map.height);
  }
  const cell = (name: string) => page.getByRole('img', { name, exact: true });
  await expect(cell('Cleaned at probe 2')).toBeVisible();
  await expect(page.getByText('nothing is cleaned yet').first()).toBeVisible();

  await page.getByRole('button', { name: 'Clean on Automatic' }).click();
  await expect(page.getByText('being checked')).toHaveCount(0);
  await expect(page.getByText('updating')).toHaveCount(0);
  const original = await look(cell('Original at probe 1'));
  await expect.poll(async () => (await look(cell('Cleaned at probe 1'))).rough).toBeLessThan(0.7 * original.rough);
  const removed = await look(cell('Removed, × 4 at probe 1'));
  expect(Math.abs(removed.mean - 128)).toBeLessThan(8);
  expect(removed.rough).toBeGreaterThan(5);

  // Held, every cell shows the original; let go, the cleaned one is back.
  await page.keyboard.down('0');
  await expect.poll(async () => (await look(cell('Cleaned at probe 1'))).rough).toBeGreaterThan(0.95 * original.rough);
  await page.keyboard.up('0');
  await expect.poll(async () => (await look(cell('Cleaned at probe 1'))).rough).toBeLessThan(0.7 * original.rough);

  // Settings beside each other; one is taken, and taken back.
  await page.keyboard.press('c');
  await expect(cell('Strong at probe 1')).toBeVisible();
  await expect(page.getByText('being checked')).toHaveCount(0);
  await page
    .getByRole('columnheader', { name: /Strong/ })
    .getByRole('button', { name: 'use this' })
    .click();
  expect((await saved()).cleaning!.luminance).toEqual({ value: 140, auto: false });
  await page.keyboard.press('Control+z');
  expect((await saved()).cleaning!.luminance).toEqual({ value: 100, auto: true });
  await page.keyboard.press('c');

  // A tone band, its last handle drawn into the shadows: what is lighter is not touched.
  await page.getByLabel('only in a tone band').check();
  const handle = page.getByRole('slider', { name: 'Tone band of the cleaning, ends' });
  const from = (await handle.boundingBox())!;
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(from.x - 40, from.y + 3, { steps: 5 });
  await page.mouse.up();
  const { band } = (await saved()).cleaning!;
  expect(band![3]).toBeLessThan(0.5);
  await page.getByLabel('only in a tone band').uncheck();

  // One channel alone.
  await page.getByRole('slider', { name: 'Red, how far it is cleaned' }).press('Home');
  expect((await saved()).cleaning!.channelPercents[0]).toBe(0);
  await page.getByRole('button', { name: 'all Automatic' }).click();

  // Beside the recovery: less noise is left to guard against, until cleaning is taken out again.
  await page.getByRole('link', { name: /^Trials/ }).click();
  await page.getByRole('button', { name: 'Suggested trials' }).click();
  expect((await saved()).trials[0].noiseGuard.value).toBeLessThan(45);
  const luminance = page.getByRole('group', { name: 'Cleaning before it' }).getByLabel('Luminance, number');
  await luminance.fill('0');
  await luminance.press('Enter');
  expect((await saved()).trials[0].noiseGuard).toEqual({ value: 50, auto: true });
  await page.keyboard.press('Control+z');
  expect((await saved()).trials[0].noiseGuard.value).toBeLessThan(45);
  await expect(page.getByText('being audited')).toHaveCount(0);
  await page.keyboard.press('Enter');

  await page.getByRole('link', { name: /^Hand over/ }).click();
  await expect(page.getByText(/luminance noise 100 %/)).toBeVisible();
  await page.getByLabel('Stage').selectOption('all, one page each (TIFF)');
  await page.getByRole('button', { name: 'Render and save a copy' }).click();
  const link = page.getByRole('link', { name: 'Download' });
  await expect(link).toBeVisible({ timeout: 120_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
  expect(download.suggestedFilename()).toBe('grainy-stages.tiff');
  const pages = JSON.parse(
    String(execFileSync('/usr/bin/python3', [join(ROOT, 'e2e', 'readPages.py'), await download.path()])),
  ) as { name: string; width: number; bits: number; roughness: number }[];
  expect(pages.map(({ name }) => name)).toEqual(['original', 'cleaned', 'recovered']);
  for (const one of pages) expect([one.width, one.bits]).toEqual([750, 16]);
  expect(pages[1].roughness).toBeLessThan(0.7 * pages[0].roughness);
  expect(pages[2].roughness).not.toBe(pages[1].roughness);

  await page.reload();
  await page.getByRole('link', { name: /^Noise/ }).click();
  await expect(page.getByLabel('Luminance noise, number')).toHaveValue('100');
});
