import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { ROOT } from './root';

/** Shows the page of a server with an empty data folder to `use`; ends both after it. */
export async function withFreshPage(use: (page: Page) => Promise<void>): Promise<void> {
  const data = mkdtempSync(join(tmpdir(), 'vitrocept-page-'));
  const noDemo = join(data, 'no-demo');
  mkdirSync(noDemo);
  const server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    cwd: ROOT,
    env: { ...process.env, VITROCEPT_DATA: data, PORT: '0', VITROCEPT_DEMO: noDemo },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  try {
    const url = await new Promise<string>((resolve) => {
      server.stdout.on('data', (chunk) => {
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(chunk));
        if (found) resolve(found[0]);
      });
    });
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(url);
    await use(page);
  } finally {
    await browser.close();
    server.kill();
    rmSync(data, { recursive: true, force: true });
  }
}

/** Brings a picture in and opens it once it was read. */
export async function bringIn(page: Page, name: string, buffer: Buffer): Promise<void> {
  await page.getByLabel('Files to bring in').setInputFiles([{ name, mimeType: 'image/jpeg', buffer }]);
  const card = page.getByRole('link', { name });
  await card.getByText(/noise \d/).waitFor({ timeout: 300_000 });
  await card.click();
}
