import { chromium, type Page } from '@playwright/test';
import { withFreshServer } from './freshServer';

/** Shows the page of a server with an empty data folder to `use`; ends both after it. */
export async function withFreshPage(use: (page: Page) => Promise<void>): Promise<void> {
  await withFreshServer(async (url) => {
    const browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu'],
    });
    try {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.goto(url);
      await use(page);
    } finally {
      await browser.close();
    }
  });
}

/** Brings a picture in and opens it once it was read. */
export async function bringIn(page: Page, name: string, buffer: Buffer): Promise<void> {
  await page.getByLabel('Files to bring in').setInputFiles([{ name, mimeType: 'image/jpeg', buffer }]);
  const card = page.getByRole('link', { name });
  await card.getByText(/noise \d/).waitFor({ timeout: 300_000 });
  await card.click();
}
