import { chromium, type Page } from '@playwright/test';

/** Shows a page of a running server to `use`, with the number of the browser's process; ends the browser after it. */
export async function withPage(url: string, use: (page: Page, browserPid: number) => Promise<void>): Promise<void> {
  const server = await chromium.launchServer({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  try {
    const browser = await chromium.connect(server.wsEndpoint());
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(url);
    await use(page, server.process().pid!);
  } finally {
    await server.close();
  }
}
