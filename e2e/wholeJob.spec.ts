import AxeBuilder from '@axe-core/playwright';
import type { Locator, Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { takeProposalsAway } from './proposals';
import { DEMO, expect, ROOT, test } from './server';

const FRAME = join(DEMO, 'frames', 'saltmere-0704.tif');
const SIZE = { width: 1080, height: 760 };

async function drag(page: Page, from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 6 });
  await page.mouse.move(to.x, to.y, { steps: 6 });
  await page.mouse.up();
}

/** Where a place of the frame lies on a surface that shows the whole frame, fitted, at most at 100 %. */
async function onSurface(surface: Locator, x: number, y: number) {
  const box = (await surface.boundingBox())!;
  const scale = Math.min(box.width / SIZE.width, box.height / SIZE.height, 1);
  return {
    x: box.x + (box.width - SIZE.width * scale) / 2 + x * scale,
    y: box.y + (box.height - SIZE.height * scale) / 2 + y * scale,
  };
}

async function expectAccessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).analyze();
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
  expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0].html}`)).toEqual([]);
}

const pixelsOf = (cell: Locator) => cell.locator('canvas').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());

test('a soft frame in, a recovered frame out', async ({ page, server }) => {
  // Bring in: bad files among good ones are refused with a sentence, the others come in.
  await page.goto(server.url);
  await expect(page.getByRole('link', { name: /Saltmere field station, May/ })).toBeVisible();
  await expectAccessible(page);
  const jpeg = await readFile(join(DEMO, 'frames', 'saltmere-0801.jpg'));
  await page.getByLabel('Files to bring in').setInputFiles([FRAME, join(DEMO, 'masks', 'saltmere-0803.png')]);
  await expect(page).toHaveURL(/\/shoots\//);
  await page.getByLabel('Files to bring in').setInputFiles([
    { name: 'cut.jpg', mimeType: 'image/jpeg', buffer: jpeg.subarray(0, 60_000) },
    { name: 'letter.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('Dear field station') },
    { name: 'nothing.png', mimeType: 'image/png', buffer: Buffer.alloc(0) },
  ]);
  const arrivals = page.getByRole('region', { name: 'Bringing in' });
  await expect(arrivals.getByText(/cut\.jpg .*damaged or cut off/)).toBeVisible();
  await expect(arrivals.getByText(/letter\.jpg .*not a JPEG, PNG, DNG, raw, TIFF or AVIF/)).toBeVisible();
  await expect(arrivals.getByText(/nothing\.png .*empty/)).toBeVisible();
  await expect(arrivals.getByText('2 of 5 came in')).toBeVisible();
  const card = page.getByRole('link', { name: /saltmere-0704\.tif/ });
  await expect(card).toContainText('ISO 200');
  await expect(card).toContainText('85 mm');
  await expect(card.getByText(/noise \d/)).toBeVisible({ timeout: 150_000 });
  await expectAccessible(page);
  await card.click();
  await takeProposalsAway(page);
  await page.getByRole('link', { name: /^Measure/ }).click();

  // Measure over a box that was moved, overrule, and back.
  await expect(page).toHaveURL(/\/measure$/);
  const surface = page.locator('.surface');
  await expect(page.getByText('loading the picture')).toBeHidden();
  await drag(page, await onSurface(surface, 540, 380), await onSurface(surface, 600, 420));
  await expect(page.getByRole('button', { name: 'Box to the centre' })).toBeVisible();
  await page.getByRole('button', { name: 'Measure here' }).click();
  const reading = page.getByRole('region', { name: 'Reading' });
  await expect(reading).toContainText('over the box', { timeout: 60_000 });
  const detail = page.getByRole('region', { name: 'Recoverable detail' });
  const drawnBefore = await detail.locator('.noise-line').getAttribute('d');
  const hatched = page.waitForResponse((response) => response.url().includes('/clipping.png'));
  await page.getByLabel('show clipping').check();
  expect((await hatched).status()).toBe(200);
  await expect(page.getByRole('region', { name: 'Tones' }).locator('path')).toHaveCount(3);
  await page.getByLabel('Cause of the blur').selectOption('Missed focus');
  await page.getByLabel('Blur size, number').fill('7.5');
  await page.keyboard.press('Enter');
  await expect(detail.locator('.noise-line')).not.toHaveAttribute('d', drawnBefore!);
  await expect(reading).toContainText('Missed focus, 7.5 px across');
  await expect(reading).toContainText('set by hand');
  await page.getByRole('button', { name: /Back to Automatic/ }).click();
  await expect(reading).not.toContainText('set by hand');
  await page.keyboard.press('Control+z');
  await expect(reading).toContainText('Missed focus, 7.5 px across');
  await expectAccessible(page);

  const acts = page.getByRole('region', { name: 'What the mask is made of' }).getByRole('listitem');
  // Mask: a stroke, a second one, undone and done again, an erasing one.
  await page.getByRole('link', { name: /^Mask/ }).click();
  await page.getByRole('tab', { name: 'Brush' }).click();
  await page.getByLabel('Size, number').fill('120');
  await page.keyboard.press('Enter');
  await drag(page, await onSurface(surface, 430, 340), await onSurface(surface, 650, 400));
  await expect(acts).toHaveCount(1);
  await drag(page, await onSurface(surface, 450, 420), await onSurface(surface, 600, 440));
  await expect(acts).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(acts).toHaveCount(1);
  await page.keyboard.press('Control+Shift+z');
  await expect(acts).toHaveCount(2);
  await page.keyboard.press('x');
  await drag(page, await onSurface(surface, 640, 460), await onSurface(surface, 660, 470));
  await expect(acts).toHaveCount(3);
  await expect(page.locator('.mask-outline')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: /^Measure/ }).click();
  await page.getByRole('button', { name: 'Measure here' }).click();
  await expect(reading).toContainText('over the mask', { timeout: 60_000 });
  await page.getByLabel('Cause of the blur').selectOption('Missed focus');
  await page.getByLabel('Blur size, number').fill('7.5');
  await page.keyboard.press('Enter');

  // Trials: two probes, the suggested start, the Wall.
  await page.getByRole('link', { name: /^Trials/ }).click();
  const map = (await page.locator('.overview-map').boundingBox())!;
  const onMap = (x: number, y: number) => ({
    x: map.x + (x / SIZE.width) * map.width,
    y: map.y + (y / SIZE.height) * map.height,
  });
  for (const place of [onMap(470, 345), onMap(640, 400)]) await page.mouse.click(place.x, place.y);
  await page.getByRole('button', { name: 'Suggested trials' }).click();
  const cells = page.locator('.wall-row:not(.is-afar) .wall-cell');
  await expect(cells).toHaveCount(8);
  await expect(page.locator('.wall-row:not(.is-afar) .wall-cell[data-state="current"]')).toHaveCount(8, {
    timeout: 300_000,
  });
  const original = page.locator('.wall-cell', { has: page.getByLabel('Original at probe 1') });
  const trialA = page.locator('.wall-cell', { has: page.getByLabel('Trial A at probe 1') });
  const recovered = await pixelsOf(trialA);
  expect(recovered).not.toBe(await pixelsOf(original));
  await page.keyboard.down('0');
  await expect.poll(() => pixelsOf(trialA)).toBe(await pixelsOf(original));
  await page.keyboard.up('0');
  await expect.poll(() => pixelsOf(trialA)).toBe(recovered);
  await page.getByLabel('Magnification').selectOption('200 %');
  await expect(page.locator('.wall-row:not(.is-afar) .wall-cell[data-state="current"]')).toHaveCount(8);
  const cellBox = (await trialA.boundingBox())!;
  const before = await pixelsOf(original);
  await drag(page, { x: cellBox.x + 90, y: cellBox.y + 70 }, { x: cellBox.x + 60, y: cellBox.y + 50 });
  await expect.poll(() => pixelsOf(original)).not.toBe(before);
  const atSixty = await pixelsOf(trialA);
  await page.getByLabel('Amount, number').fill('90');
  await page.keyboard.press('Enter');
  await expect.poll(() => pixelsOf(trialA)).not.toBe(atSixty);
  await expect(page.locator('.wall-row:not(.is-afar) .wall-cell[data-state="current"]')).toHaveCount(8, {
    timeout: 300_000,
  });
  await expectAccessible(page);
  await page.locator('body').click({ position: { x: 700, y: 5 } });
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'A is chosen' })).toBeVisible();

  // The prescription survives a reload and a restart of the server.
  await expect(page.getByRole('status')).toHaveText('saved');
  const { pathname } = new URL(page.url());
  await server.stop('SIGKILL');
  await server.start();
  await page.goto(server.url + pathname);
  await expect(page.getByRole('button', { name: 'A is chosen' })).toBeVisible();

  // What is judged at 100 % …
  await page.getByLabel('Magnification').selectOption('100 %');
  await expect(page.locator('.wall-row:not(.is-afar) .wall-cell[data-state="current"]')).toHaveCount(8, {
    timeout: 300_000,
  });
  const probe = await page.evaluate(async (id) => {
    const { saved } = await (await fetch(`/api/frames/${id}`)).json();
    return saved.prescription.probes[0] as { x: number; y: number };
  }, pathname.split('/')[2]);
  const judged = await trialA.locator('canvas').evaluate((canvas: HTMLCanvasElement) => {
    const { width, height } = canvas;
    return { width, height, rgba: Array.from(canvas.getContext('2d')!.getImageData(0, 0, width, height).data) };
  });

  // Hand over: a 16-bit TIFF, opened by an independent reader.
  await page.getByRole('link', { name: /^Hand over/ }).click();
  await page.getByRole('button', { name: 'Render and save a copy' }).click();
  const render = page.getByRole('article');
  await expect(render).toHaveAttribute('data-state', 'done', { timeout: 200_000 });
  await expectAccessible(page);
  const download = page.waitForEvent('download');
  await render.getByRole('link', { name: 'Download' }).click();
  const copy = await (await download).path();
  const facts = JSON.parse(
    execFileSync('/usr/bin/python3', [join(ROOT, 'e2e/readTiff.py'), copy, FRAME, '330', '240', '750', '540'], {
      encoding: 'utf8',
    }),
  ) as Record<string, unknown>;
  expect(facts).toMatchObject({
    ...SIZE,
    bits: 16,
    orientation: 1,
    model: 'Quorvane K2',
    iso: 200,
    pixelX: SIZE.width,
    pixelY: SIZE.height,
    iccBytes: facts.originalIccBytes,
    changedOutside: 0,
  });
  expect(String(facts.lens)).toContain('Quorvane 85 mm');
  expect(facts.changedInside).toBeGreaterThan(10_000);
  expect(await readdir(join(server.data, 'outbox'))).toEqual(['saltmere-0704-recovered.tiff']);

  // … is what is written, pixel by pixel.
  const cell = {
    left: Math.floor(probe.x - judged.width / 2),
    top: Math.floor(probe.y - judged.height / 2),
    width: judged.width,
    height: judged.height,
  };
  const { data: written } = await sharp(copy, { ignoreIcc: true })
    .extract(cell)
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  const codes = new Uint16Array(written.buffer, written.byteOffset, written.byteLength / 2);
  const differing = Array.from({ length: codes.length }, (_, i) => i).filter(
    (i) => judged.rgba[Math.floor(i / 3) * 4 + (i % 3)] !== Math.round(codes[i] / 257),
  );
  expect(differing).toEqual([]);

  // The original is kept byte for byte.
  const bytes = await readFile(FRAME);
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const kept = await readFile(join(server.data, 'originals', sha256.slice(0, 2), sha256));
  expect(kept.equals(bytes)).toBe(true);
});

test('two windows on one frame: nothing is overwritten without being asked', async ({ page, server, context }) => {
  const shoot = await newShootWith(server.url, FRAME);
  await page.goto(`${server.url}/frames/${shoot.frameId}/mask`);
  const other = await context.newPage();
  await other.goto(`${server.url}/frames/${shoot.frameId}/mask`);
  for (const window of [page, other]) {
    await expect(window.locator('.surface canvas').first()).toBeVisible();
    await expect(window.getByText('loading the picture')).toBeHidden();
  }
  // The other window hears nothing of what comes: while it waits for a Reading it would take it over by itself.
  await other.route('**/api/frames/*', (route) =>
    route.request().method() === 'GET' ? route.abort() : route.continue(),
  );
  await page.getByRole('tab', { name: 'Whole mask' }).click();
  await page.getByRole('button', { name: 'Invert', exact: true }).click();
  await expect(page.getByRole('region', { name: 'What the mask is made of' }).getByRole('listitem')).toHaveCount(1);
  await expect(page.getByRole('status')).toHaveText('saved');
  await other.getByRole('tab', { name: 'Whole mask' }).click();
  // Another act: the same one would be the same work, saved already.
  await other.getByRole('button', { name: 'Fill', exact: true }).click();
  await expect(other.getByRole('alert')).toContainText('changed in another window');
  await other.getByRole('button', { name: 'Load the newer' }).click();
  await expect(other.getByRole('alert')).toBeHidden();
  await expect(other.getByRole('status')).toHaveText('saved');
});

test('a render is stopped, tried again and finished', async ({ page, server }) => {
  const path = join(server.data, 'big.png');
  await writeFile(
    path,
    execFileSync(process.execPath, ['--import', 'tsx', join(ROOT, 'e2e/makeBigPng.ts')], {
      cwd: ROOT,
      maxBuffer: 1 << 28,
    }),
  );
  const { frameId } = await newShootWith(server.url, path);
  const frame = (await (await fetch(`${server.url}/api/frames/${frameId}`)).json()) as {
    saved: { revision: number; prescription: Record<string, unknown> };
  };
  const setting = (value: number) => ({ value, auto: false });
  await fetch(`${server.url}/api/frames/${frameId}/prescription`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      revision: frame.saved.revision,
      prescription: {
        ...frame.saved.prescription,
        recovery: {
          method: 'missed-focus',
          amount: setting(100),
          blurSizePx: setting(6),
          directionDeg: setting(0),
          noiseGuard: setting(50),
          haloLimitPercent: 10,
          grainKeptPercent: setting(0),
          trialId: null,
        },
      },
    }),
  });
  await page.goto(`${server.url}/frames/${frameId}/hand-over`);
  await page.getByText('PNG, 16 bit').click();
  await page.getByRole('button', { name: 'Render and save a copy' }).click();
  const render = page.getByRole('article');
  await expect(render).toContainText(/of \d+ tiles/);
  await render.getByRole('button', { name: 'Stop' }).click();
  await expect(render).toHaveAttribute('data-state', 'stopped', { timeout: 60_000 });
  expect(await readdir(join(server.data, 'outbox'))).toEqual([]);
  await render.getByRole('button', { name: 'Try again' }).click();
  await expect(render).toHaveAttribute('data-state', 'done', { timeout: 200_000 });
  expect(await readdir(join(server.data, 'outbox'))).toEqual(['big-recovered.png']);
});

async function newShootWith(url: string, path: string): Promise<{ frameId: string }> {
  const shoot = (await (
    await fetch(`${url}/api/shoots`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'Test' }),
    })
  ).json()) as { id: string };
  const form = new FormData();
  form.append('file', new Blob([await readFile(path)]), path.split('/').pop());
  const frame = (await (
    await fetch(`${url}/api/shoots/${shoot.id}/frames`, { method: 'POST', body: form })
  ).json()) as { id: string };
  return { frameId: frame.id };
}
