import type { Page } from '@playwright/test';
import { expect } from './server';

/** Waits until a frame was looked after, and takes away what is proposed for it: a test then begins with nothing. */
export async function takeProposalsAway(page: Page): Promise<void> {
  await expect(page.getByText(/% sure/)).toBeVisible({ timeout: 600_000 });
  for (const step of [/^Mask/, /^Trials/]) {
    await page.getByRole('link', { name: step }).click();
    const away = page.getByRole('button', { name: 'Take it away' });
    // What is proposed may come a moment after what was read.
    await expect(async () => {
      if (await away.isVisible()) await away.click();
      await expect(away).toHaveCount(0, { timeout: 1000 });
    }).toPass();
  }
}
