import type { Page } from '@playwright/test';
import { join } from 'node:path';
import sharp from 'sharp';
import type { MaskOperation, Prescription } from '@vitrocept/core';
import { takeProposalsAway } from './proposals';
import { DEMO, expect, test, type TestServer } from './server';

/** Small soft frames of the demo shoot: the puppet's eye, and the star of the test chart. */
const EYE = { file: 'saltmere-0704.tif', left: 300, top: 180 };
const STAR = { file: 'saltmere-0801.jpg', left: 720, top: 130 };
const SIZE = { width: 500, height: 420 };
const cut = ({ file, left, top }: typeof EYE) => sharp(join(DEMO, 'frames', file)).extract({ left, top, ...SIZE });

async function opened(page: Page, { url }: TestServer, what: typeof EYE): Promise<string> {
  const file = await cut(what).png().toBuffer();
  await page.goto(url);
  await page.getByLabel('Files to bring in').setInputFiles([{ name: 'part.png', mimeType: 'image/png', buffer: file }]);
  const card = page.getByRole('link', { name: /part\.png/ });
  await expect(card.getByText(/noise \d/)).toBeVisible({ timeout: 150_000 });
  await card.click();
  return /frames\/([^/]+)/.exec(page.url())![1];
}

/** The frame's reading becomes one that is in doubt between two causes, whatever was read. */
async function makeUnsure(page: Page, { url }: TestServer, id: string): Promise<void> {
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
  const address = `${url}/api/frames/${id}`;
  const { saved } = (await (await page.request.get(address)).json()) as {
    saved: { revision: number; prescription: Prescription };
  };
  const reading = saved.prescription.reading!;
  const cause = { method: 'missed-focus', blurSizePx: 6, directionDeg: 0 } as const;
  const runnerUp = { runnerUp: 'ordinary-softness', runnerUpSizePx: 4, runnerUpDirectionDeg: 0 } as const;
  const measured = { ...reading.measured, ...cause, ...runnerUp, confidence: 0.6, leftAlone: undefined };
  const prescription = { ...saved.prescription, reading: { ...reading, ...cause, auto: true, sizes: [], measured } };
  const data = { revision: saved.revision, prescription };
  expect((await page.request.put(`${address}/prescription`, { data })).ok()).toBe(true);
  await page.goto(`${url}/frames/${id}/measure`);
}

const saved = async (page: Page, { url }: TestServer, id: string) =>
  ((await (await page.request.get(`${url}/api/frames/${id}`)).json()) as { saved: { prescription: Prescription } })
    .saved.prescription;

test('corners of the mask: grow, soften, holes, specks, a gradient, a focus range, its file as TIFF', async ({
  page,
  server,
}) => {
  const id = await opened(page, server, EYE);
  await page.getByRole('link', { name: /^Mask/ }).click();
  const operations = async () => (await saved(page, server, id)).mask.operations;
  const last = async () => (await operations()).at(-1) as (MaskOperation & Record<string, unknown>) | undefined;
  /** How much of the frame the mask covers, from the file it is given as. */
  const covered = async (kind = 'png') => {
    const answer = await page.request.get(`${server.url}/api/frames/${id}/mask.${kind}?bits=8`);
    expect(answer.headers()['content-type']).toBe(`image/${kind}`);
    const { channels } = await sharp(await answer.body()).stats();
    return channels[0].mean / 255;
  };

  // A gradient drawn by the pointer.
  await page.getByRole('tab', { name: 'Shapes' }).click();
  await page.getByRole('button', { name: 'Linear' }).click();
  const box = (await page.locator('.surface').boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.4, box.y + box.height * 0.5);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.6, box.y + box.height * 0.5, { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => (await last())?.kind).toBe('linear');
  await expect.poll(() => covered()).toBeGreaterThan(0.3);
  expect(await covered()).toBeLessThan(0.7);
  expect(Math.abs((await covered('tiff')) - (await covered()))).toBeLessThan(0.01);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await operations()).length).toBe(0);

  // Focus range: the sharpest places only.
  await page.getByRole('tab', { name: 'Tone, focus, colour' }).click();
  await page.getByRole('button', { name: 'Focus range' }).click();
  await page.getByRole('button', { name: 'Add this range' }).click();
  await expect
    .poll(
      async () => {
        const area = await last();
        return area?.kind === 'area' ? area.from.kind : null;
      },
      { timeout: 120_000 },
    )
    .toBe('focus');
  const inFocus = await covered();
  expect(inFocus).toBeGreaterThan(0.005);
  expect(inFocus).toBeLessThan(0.95);

  // Holes of up to 600 px are filled, specks of that size removed: there is more, then less.
  await page.getByRole('tab', { name: 'Edge' }).click();
  await page.getByLabel('Up to, number').fill('300');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Fill holes' }).click();
  await expect.poll(async () => (await operations()).length, { timeout: 120_000 }).toBe(2);
  expect(await covered()).toBeGreaterThanOrEqual(inFocus);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await operations()).length).toBe(1);
  await page.getByRole('button', { name: 'Remove specks' }).click();
  await expect.poll(async () => (await operations()).length, { timeout: 120_000 }).toBe(2);
  expect(await covered()).toBeLessThan(inFocus);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await operations()).length).toBe(1);

  // Grown by 10 px there is more, shrunk by 10 px less.
  await page.getByLabel('Grow or shrink, number').fill('10');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await last())?.kind).toBe('grow');
  expect(await covered()).toBeGreaterThan(inFocus * 1.05);
  await page.getByLabel('Grow or shrink, number').fill('-10');
  await page.keyboard.press('Enter');
  await expect.poll(() => covered()).toBeLessThan(inFocus);
  expect((await operations()).length).toBe(2);
});

test('corners of the trials: both causes, blades, halo limit, hold, no difference, the whole mask, a version removed, a JPEG', async ({
  page,
  server,
}) => {
  const id = await opened(page, server, STAR);
  const plan = () => saved(page, server, id);
  await takeProposalsAway(page);
  await makeUnsure(page, server, id);
  await page.getByRole('button', { name: 'Try both' }).click();
  await expect(page).toHaveURL(/\/trials$/);
  const heads = page.locator('button.trial-head');
  await expect(heads).toHaveCount(2);
  expect(new Set((await plan()).trials.map(({ method }) => method)).size).toBe(2);
  await expect(page.getByRole('button', { name: 'Try both' })).toHaveCount(0);
  const settled = (cells: number) =>
    expect(page.locator('.wall-row:not(.is-afar) .wall-cell[data-state="current"]')).toHaveCount(cells, {
      timeout: 300_000,
    });
  await settled(3);

  // Held, the cell shows the original; let go, its own pixels again.
  const pixels = () =>
    page.getByLabel('Trial A at probe 1').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
  const original = () =>
    page.getByLabel('Original at probe 1').evaluate((canvas: HTMLCanvasElement) => canvas.toDataURL());
  const own = await pixels();
  expect(own).not.toBe(await original());
  const hold = (await page.getByRole('button', { name: 'Hold for the original frame' }).boundingBox())!;
  await page.mouse.move(hold.x + hold.width / 2, hold.y + hold.height / 2);
  await page.mouse.down();
  await expect.poll(pixels).toBe(await original());
  await page.mouse.up();
  await expect.poll(pixels).toBe(own);

  // Blades and the halo limit change pixels, and are kept.
  const focus = (await plan()).trials.findIndex(({ method }) => method === 'missed-focus');
  expect(focus).toBeGreaterThanOrEqual(0);
  await heads.nth(focus).click();
  await page.getByLabel('Aperture').selectOption('6 blades');
  await page.getByLabel('Blades turned, number').fill('20');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await plan()).trials[focus]).toMatchObject({ blades: 6, bladesDeg: 20 });
  await page.getByLabel('limit halos').uncheck();
  await expect.poll(async () => (await plan()).trials[focus].haloLimitPercent).toBeNull();
  await page.getByLabel('limit halos').check();
  await page.getByLabel('Halo limit, number').fill('3');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await plan()).trials[focus].haloLimitPercent).toBe(3);
  await settled(3);

  // The whole mask audited: here the whole frame.
  await page.getByRole('button', { name: 'Audit all of the mask' }).click();
  await expect(page.getByText(/Over the mask/)).toBeVisible({ timeout: 300_000 });

  // No difference is an answer too.
  await page.keyboard.press('w');
  const room = page.getByRole('region', { name: 'Which is better?' });
  await expect(room.getByText(/question 1,/)).toBeVisible();
  await room.getByRole('button', { name: /No difference/ }).click();
  await expect.poll(async () => (await plan()).comparisons?.length).toBe(1);
  expect((await plan()).comparisons![0].preferred).toBeNull();
  await page.keyboard.press('Escape');

  // A version brought in, removed, and back by undo.
  const version = await cut(STAR).sharpen({ sigma: 1.5 }).png().toBuffer();
  await page
    .getByLabel('Outside version to bring in')
    .setInputFiles([{ name: 'elsewhere.png', mimeType: 'image/png', buffer: version }]);
  await expect(page.getByText('elsewhere.png')).toBeVisible({ timeout: 120_000 });
  const remove = page.getByRole('button', { name: /Remove outside version/ });
  await remove.click();
  await expect(remove).toHaveText('really?');
  await remove.click();
  await expect(page.getByText('elsewhere.png')).toHaveCount(0);
  await page.getByRole('button', { name: 'undo', exact: true }).click();
  await expect(page.getByText('elsewhere.png')).toBeVisible();

  // A JPEG handed over, seen on the page of all renders.
  await page.getByRole('button', { name: /^Choose [AB]/ }).click();
  await page.getByRole('link', { name: /^Hand over/ }).click();
  await page.getByText('JPEG', { exact: true }).click();
  await page.getByLabel('Quality, number').fill('80');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Render and save a copy' }).click();
  await page.getByRole('link', { name: /^renders/ }).click();
  await expect(page.getByRole('heading', { name: 'Renders' })).toBeVisible();
  const job = page.getByRole('article', { name: /part\.png/ });
  await expect(job).toHaveAttribute('data-state', 'done', { timeout: 300_000 });
  await expect(job).toContainText('JPEG 80');
  const file = await page.request.get(
    `${server.url}${await job.getByRole('link', { name: 'Download' }).getAttribute('href')}`,
  );
  expect(await sharp(await file.body()).metadata()).toMatchObject({ format: 'jpeg', width: 500, height: 420 });
  await job.getByRole('link', { name: 'to the frame' }).click();
  await expect(page).toHaveURL(new RegExp(`/frames/${id}/hand-over`));
  const bytes = await page.request.get(`${server.url}/api/frames/${id}/original`);
  expect(bytes.headers()['content-disposition']).toContain('part.png');
});
