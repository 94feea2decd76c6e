import type { Page } from '@playwright/test';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { readPicture } from '@vitrocept/files';
import type { Prescription } from '@vitrocept/core';
import { expect, test } from './server';

/** Presses Tab until what has the focus is named so. The pointer is never used. */
async function tabTo(page: Page, name: RegExp, key = 'Tab'): Promise<void> {
  for (let i = 0; i < 120; i++) {
    await page.keyboard.press(key);
    const found = await page.evaluate(() => {
      const element = document.activeElement as HTMLElement | null;
      const labels = element instanceof HTMLInputElement ? [...(element.labels ?? [])].map((l) => l.innerText) : [];
      return [element?.getAttribute('aria-label'), element?.innerText, ...labels].filter(Boolean).join(' | ');
    });
    if (name.test(found)) return;
  }
  throw new Error(`No way by ${key} to ${name}`);
}

const press = (page: Page, ...keys: string[]) =>
  keys.reduce((before, key) => before.then(() => page.keyboard.press(key)), Promise.resolve());

test('the whole job by keyboard alone: open, find the subject, measure, trial, choose, hand over', async ({
  page,
  server,
}) => {
  await page.goto(server.url);
  await expect(page.getByRole('link', { name: /Saltmere field station/ })).toBeVisible();
  await tabTo(page, /Saltmere field station/);
  await press(page, 'Enter');
  await expect(page.getByRole('link', { name: /0801/ }).getByText(/noise \d/)).toBeVisible({ timeout: 150_000 });
  await tabTo(page, /0801/);
  await press(page, 'Enter');
  await expect(page).toHaveURL(/\/measure$/);
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  const saved = async () =>
    (
      (await (await page.request.get(`${server.url}/api/frames/${id}`)).json()) as {
        saved: { prescription: Prescription };
      }
    ).saved.prescription;

  // Mask: tabs by arrows; the subject found by its key; a dab, then a stroke by a point that arrows move.
  await tabTo(page, /^Mask/);
  await press(page, 'Enter');
  await expect(page.getByRole('tab', { name: 'Subject' })).toBeVisible();
  await press(page, 's');
  await expect
    .poll(async () => (await saved()).mask.operations.map(({ kind }) => kind), { timeout: 120_000 })
    .toEqual(['area']);
  await tabTo(page, /The frame and its mask/, 'Shift+Tab');
  await press(page, 'Shift+ArrowLeft', 'ArrowUp', 'Enter');
  await expect
    .poll(
      async () => {
        const [area] = (await saved()).mask.operations;
        return area?.kind === 'area' && area.from.kind === 'subject' ? area.from.dabs.length : -1;
      },
      { timeout: 120_000 },
    )
    .toBe(1);
  await tabTo(page, /^Subject$/);
  await press(page, 'ArrowRight');
  await expect(page.getByRole('tab', { name: 'Brush' })).toHaveAttribute('aria-selected', 'true');
  await tabTo(page, /The frame and its mask/, 'Shift+Tab');
  await press(page, 'Enter', 'ArrowRight', 'Shift+ArrowRight', 'ArrowDown', 'Enter');
  await expect.poll(async () => (await saved()).mask.operations.at(-1)?.kind).toBe('stroke');

  // Measure over the mask.
  await tabTo(page, /^Measure/, 'Shift+Tab');
  await press(page, 'Enter');
  await tabTo(page, /Measure here/);
  await press(page, 'Enter');
  await expect(page.getByText('over the mask', { exact: true })).toBeVisible({ timeout: 150_000 });

  // A probe in the middle, moved; trials; the cell's close look and its divider.
  await tabTo(page, /^Trials/, 'Shift+Tab');
  await press(page, 'Enter');
  // What was proposed gives way to what is one's own.
  await tabTo(page, /^Take it away$/);
  await press(page, 'Enter');
  await expect(page.locator('.probe-mark')).toHaveCount(0);
  await tabTo(page, /One in the middle/);
  await press(page, 'Enter');
  await expect(page.locator('.probe-mark')).toBeFocused();
  await press(page, 'Shift+ArrowRight', 'ArrowDown');
  await expect.poll(async () => (await saved()).probes.length).toBe(1);
  // Trials were suggested when it was measured.
  await expect(page.locator('.wall-row:not(.is-afar) .wall-cell[data-state="current"]')).toHaveCount(4, {
    timeout: 300_000,
  });
  await tabTo(page, /^Original at probe 1$/);
  await press(page, 'ArrowRight', 'ArrowRight');
  await expect(page.getByLabel('Trial B at probe 1')).toBeFocused();
  await press(page, 'Alt+ArrowLeft', 'Enter');
  await expect(page.getByRole('region', { name: 'Close look' })).toBeVisible();
  await press(page, 'Escape');
  await press(page, 'b');
  await press(page, 'Enter');
  await expect.poll(async () => (await saved()).recovery?.trialId).toBe((await saved()).trials[1].id);

  // Hand over.
  await tabTo(page, /^Hand over/, 'Shift+Tab');
  await press(page, 'Enter');
  await tabTo(page, /Render and save a copy/);
  await press(page, 'Enter');
  await expect(page.locator('article[data-state="done"]')).toBeVisible({ timeout: 300_000 });
  const [copy] = (await readdir(join(server.data, 'outbox'))).filter((name) => name.endsWith('.tiff'));
  expect(await readPicture(join(server.data, 'outbox', copy))).toMatchObject({ bits: 16 });
});
