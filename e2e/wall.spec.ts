import type { Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Prescription } from '@vitrocept/core';
import { takeProposalsAway } from './proposals';
import { DEMO, expect, test } from './server';

/** A small frame, so that the Wall settles quickly: the puppet's eye from the demo shoot. */
async function openWall(page: Page, url: string): Promise<void> {
  const file = await sharp(join(DEMO, 'frames', 'saltmere-0704.tif'))
    .extract({ left: 300, top: 180, width: 500, height: 420 })
    .png()
    .toBuffer();
  await page.goto(url);
  await page.getByLabel('Files to bring in').setInputFiles([{ name: 'eye.png', mimeType: 'image/png', buffer: file }]);
  const card = page.getByRole('link', { name: /eye\.png/ });
  await expect(card.getByText(/noise \d/)).toBeVisible({ timeout: 150_000 });
  await card.click();
  await takeProposalsAway(page);
}

async function planOf(page: Page, url: string): Promise<Prescription> {
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  const answer = await page.request.get(`${url}/api/frames/${id}`);
  return ((await answer.json()) as { saved: { prescription: Prescription } }).saved.prescription;
}

const settled = async (page: Page, cells: number) => {
  await expect(page.locator('.wall-row:not(.is-afar) .wall-cell[data-state="current"]')).toHaveCount(cells, {
    timeout: 300_000,
  });
  await expect(page.getByText('being audited')).toHaveCount(0, { timeout: 120_000 });
};

test('choosing with evidence: proposals, a test strip, which is better, a close look, paint back, an outside version', async ({
  page,
  server,
}) => {
  await openWall(page, server.url);

  // Proposals are accepted one by one; a fair start.
  await page.getByRole('button', { name: 'Propose some' }).click();
  await page.getByRole('button', { name: '+ strongest edge' }).click();
  await page.getByRole('button', { name: '+ finest texture' }).click();
  await page.getByLabel('Size of probe 2').selectOption('64 px');
  await page.getByRole('button', { name: 'up' }).click();
  await page.getByRole('button', { name: 'All methods on Automatic' }).click();
  await expect(page.getByLabel('Name of probe 1')).toHaveValue('finest texture');
  const heads = page.locator('button.trial-head');
  const methods = await heads.count();
  expect(methods).toBeGreaterThanOrEqual(4);
  await settled(page, 2 * (methods + 1));

  // Only one is kept; a strip of its Amount, narrowed down to the neighbours of the liked one.
  for (let left = methods; left > 1; left--) {
    await heads.last().click();
    await page.getByRole('button', { name: 'Remove', exact: true }).click();
    await expect(heads).toHaveCount(left - 1);
  }
  await page.keyboard.press('s');
  const form = page.getByRole('dialog');
  await form.getByLabel('How many').fill('40');
  await expect(form.getByRole('alert').filter({ hasText: 'At most' })).toBeVisible();
  await form.getByLabel('How many').fill('3');
  await expect(form.getByText('20 · 60 · 100')).toBeVisible();
  await form.getByRole('button', { name: 'Make the strip' }).click();
  await expect(heads).toHaveCount(3);
  await heads.nth(1).click();
  await page.getByRole('button', { name: 'Narrow down' }).click();
  await expect(heads).toHaveCount(5);
  const amounts = (await heads.allInnerTexts()).map((text) => Number(/\n(\d+)/.exec(text)![1]));
  expect(amounts).toEqual([20, 40, 60, 80, 100]);
  await settled(page, 12);
  const marks = page.getByRole('group', { name: /Detail gained against worst damage/ });
  await expect(marks.getByRole('button')).toHaveCount(5);

  // Which is better: someone who always likes the stronger, which is E in the end; answers are taken back by undo.
  await page.keyboard.press('w');
  const room = page.getByRole('region', { name: 'Which is better?' });
  await expect(room.locator('.wall-cell[data-state="current"]')).toHaveCount(2, { timeout: 120_000 });
  const plan = () => planOf(page, server.url);
  const { trials } = await plan();
  const amountOf = (id: string) => trials.find((trial) => trial.id === id)!.amount.value;
  const answered = async (count: number) => {
    await expect.poll(async () => (await plan()).comparisons?.length ?? 0).toBe(count);
    return (await plan()).comparisons?.at(-1);
  };
  let asked = 0;
  while (!(await room.getByText(/settled after/).isVisible())) {
    await page.keyboard.press('ArrowLeft');
    const { left, right, preferred } = (await answered(asked + 1))!;
    expect(preferred).toBe(left);
    if (amountOf(left) > amountOf(right)) asked++;
    else {
      await page.keyboard.press('Control+z');
      await answered(asked);
    }
    await expect(room.getByText(new RegExp(`question ${asked + 1},|settled after`))).toBeVisible();
  }
  const verdict = await room.getByRole('heading').innerText();
  expect(verdict).toMatch(/You prefer E /);
  await expect(room.getByText(/% of \d+ answers agree/)).toBeVisible();
  await room.getByRole('button', { name: 'Choose it' }).click();
  await expect(page.locator('.trial-head .chosen-mark')).toBeVisible();

  // Close look: the numbers of a pixel, and the original painted back over a mark, undone again.
  await page.getByRole('gridcell').getByLabel('Trial E at probe 1').dblclick();
  const close = page.getByRole('region', { name: 'Close look' });
  await close.getByLabel('Drawn over the pixels').selectOption('');
  const shown = () =>
    close.locator('canvas').evaluate((canvas: HTMLCanvasElement) => {
      const { width, height } = canvas;
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height);
      // Of the left and of the right half: a sum that any change of pixels changes.
      const sums = [0, 0];
      for (let i = 0; i < data.length; i += 4)
        sums[(i / 4) % width < width / 2 ? 0 : 1] += data[i + 1] * (1 + ((i / 4) % 97));
      return sums;
    });
  await expect(close.getByText(/Detail gained/)).toBeVisible();
  const divided = await shown();
  // Divider by keys: what lay under the original's side is the result's now.
  await close.locator('canvas').focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(async () => (await shown())[0]).not.toBe(divided[0]);
  // Radios by arrow keys; a pair shows two versions of the same place, which differ.
  await close.getByRole('radio', { name: 'Divider' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(close.getByRole('radio', { name: 'Pair' })).toBeChecked();
  const [left, right] = await shown();
  expect(left).not.toBe(right);
  const bare = await shown();
  await close.getByLabel('Drawn over the pixels').selectOption('unproven detail');
  const drawnOver = await shown();
  expect(drawnOver[0]).toBe(bare[0]);
  await close.getByLabel('Drawn over the pixels').selectOption('');
  expect(await shown()).toEqual(bare);
  await close.getByRole('radio', { name: 'Blink' }).click();
  const seen = new Set<string>();
  await expect.poll(async () => seen.add(String(await shown())).size).toBe(2);
  await close.getByRole('radio', { name: 'Difference' }).click();
  await close.locator('canvas').hover({ position: { x: 200, y: 200 } });
  await expect(close.getByText(/ΔE₀₀ \d/)).toBeVisible();
  await page.keyboard.press('Escape');

  // A trial that takes the blur for three times what it is draws what the photograph denies: the original goes back
  // there.
  await heads.nth(4).click();
  await page.getByLabel('Blur size, number').fill('26');
  await page.keyboard.press('Enter');
  await page.getByLabel('Amount, number').fill('100');
  await page.keyboard.press('Enter');
  await settled(page, 12);
  await page.getByRole('gridcell').getByLabel('Trial E at probe 1').dblclick();
  const back = close.getByRole('button', { name: 'paint original back here' }).first();
  await expect(back).toBeVisible({ timeout: 120_000 });
  const maskOf = async () => (await plan()).mask.operations;
  const before = await maskOf();
  await back.click();
  await expect.poll(maskOf).not.toEqual(before);
  expect((await maskOf()).at(-1)).toMatchObject({ kind: 'stroke', mode: 'erase' });
  await page.keyboard.press('Control+z');
  await expect.poll(maskOf).toEqual(before);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('grid', { name: 'Wall' })).toBeVisible();

  // An outside version: half the size, shifted, brighter. It is laid on and judged; another picture is refused.
  const own = await sharp(await readFile(join(DEMO, 'frames', 'saltmere-0704.tif')))
    .extract({ left: 304, top: 181, width: 490, height: 410 })
    .linear(1.08, 0)
    .resize(245, 205)
    .png()
    .toBuffer();
  const strange = await sharp(join(DEMO, 'frames', 'saltmere-0801.jpg'))
    .resize(500, 420, { fit: 'fill' })
    .png()
    .toBuffer();
  const bring = page.getByLabel('Outside version to bring in');
  await bring.setInputFiles([{ name: 'strange.png', mimeType: 'image/png', buffer: strange }]);
  await expect(page.getByText(/strange\.png: It does not lie on this frame/)).toBeVisible({ timeout: 120_000 });
  await page.getByRole('alert').getByRole('button', { name: 'close' }).click();
  await bring.setInputFiles([{ name: 'elsewhere.png', mimeType: 'image/png', buffer: own }]);
  await expect(page.getByText('elsewhere.png')).toBeVisible({ timeout: 120_000 });
  await settled(page, 14);

  // All of it is there after a reload.
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
  await page.reload();
  await expect(heads).toHaveCount(5);
  await expect(page.getByText('elsewhere.png')).toBeVisible();
  await expect(page.locator('.trial-head .chosen-mark')).toBeVisible();
  await expect(page.getByLabel('Name of probe 1')).toHaveValue('finest texture');
});

test('a path by place is told in Measure, followed in Trials, and can be given up for one', async ({
  page,
  server,
}) => {
  await openWall(page, server.url);
  const address = `${server.url}/api/frames/${/frames\/([^/]+)/.exec(page.url())![1]}`;
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
  const { saved } = (await (await page.request.get(address)).json()) as {
    saved: { revision: number; prescription: Prescription };
  };
  const square = { side: 5, lengthPx: 4, values: Array.from({ length: 25 }, (_, i) => (i % 5 === 2 ? 1000 : 0)) };
  const tilted = { ...square, values: square.values.map((_, i) => (i % 6 === 0 ? 1000 : 0)) };
  const path = { ...square, places: [square, tilted].map((own, i) => ({ ...own, x: 125 + 250 * i, y: 210 })) };
  const shake = { method: 'camera-shake', blurSizePx: 4, directionDeg: 0 } as const;
  const reading = saved.prescription.reading!;
  const turned = { ...reading, ...shake, path, sizes: [], measured: { ...reading.measured, ...shake } };
  const plan: Prescription = { ...saved.prescription, reading: turned, trials: [] };
  const answer = await page.request.put(`${address}/prescription`, {
    data: { revision: saved.revision, prescription: plan },
  });
  expect(answer.ok()).toBe(true);

  await page.goto(page.url().replace(/trials.*/, 'measure'));
  await expect(page.getByText('The camera turned as well')).toBeVisible();
  await expect(page.getByLabel(/show the blur, 4 × larger/)).toBeChecked();

  await page.getByRole('link', { name: /^Trials/ }).click();
  await page.getByRole('button', { name: 'Propose some' }).click();
  await page.getByRole('button', { name: '+ strongest edge' }).click();
  await page.getByRole('button', { name: 'All methods on Automatic' }).click();
  const head = page.locator('button.trial-head').filter({ hasText: 'Camera shake' });
  await expect(head).toContainText('by place');
  await head.click();
  const follow = page.getByLabel('follow the turn of the camera');
  await follow.uncheck();
  await expect(head).toContainText('4.0 px');
  await page.keyboard.press('Control+z');
  await expect(head).toContainText('by place');
  await expect(follow).toBeChecked();
});
