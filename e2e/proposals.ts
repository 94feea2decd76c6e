import type { Page } from '@playwright/test';
import { expect } from './server';

/** Waits until a frame was looked after, and takes away what is proposed for it: a test then begins with nothing. */
export async function takeProposalsAway(page: Page): Promise<void> {
  await expect(page.getByText(/% sure/)).toBeVisible({ timeout: 600_000 });
  for (const step of [/^Mask/, /^Trials/]) {
    const link = page.getByRole('link', { name: step });
    await link.click();
    await expect(link).toHaveAttribute('aria-current', 'page');
    const away = page.getByRole('button', { name: 'Take it away' });
    // What is proposed may come a moment after what was read.
    await expect(async () => {
      if (await away.isVisible()) await away.click();
      await expect(away).toHaveCount(0, { timeout: 1000 });
    }).toPass();
  }
}

/**
 * Stands before trials, whether they were proposed by now, wait to be asked for, or nothing was found to recover: which
 * of them it is depends on how far the Reading has come.
 */
export async function beginWithTrials(page: Page): Promise<void> {
  const choose = page.getByRole('button', { name: /^Choose A/ });
  const start = page.getByRole('button', { name: /^(Suggested trials|All methods on Automatic)$/ }).first();
  await expect(async () => {
    if (!(await choose.isVisible())) await start.click({ timeout: 2000 });
    await expect(choose).toBeVisible({ timeout: 2000 });
  }).toPass();
}
