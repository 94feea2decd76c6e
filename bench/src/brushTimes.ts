import { loadavg } from 'node:os';
import { join } from 'node:path';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { bringIn, withFreshPage } from './freshPage';
import { ROOT } from './root';

const SIZE = { width: 6000, height: 4000 };
const STAMPS = 120;
const LOOKED_AT_MS = 4000;
/** The Reading over the mask that was found has ended by then. */
const RESTED_MS = 30_000;

/**
 * In the real page on a frame of 24 megapixels: how long a brush stamp takes, and how long the subject is looked for.
 */
export async function brushTimes(): Promise<void> {
  const large = await sharp(join(ROOT, 'demo', 'frames', 'saltmere-0412.jpg'))
    .resize(SIZE.width, SIZE.height)
    .jpeg({ quality: 90 })
    .toBuffer();
  await withFreshPage(async (page) => {
    await bringIn(page, 'large.jpg', large);
    await page.getByRole('link', { name: /^Mask/ }).click();
    await pictureIn(page);
    const first = await findSubject(page);
    const again = await findSubjectAfterReload(page, 0);
    const later = await findSubjectAfterReload(page, LOOKED_AT_MS);
    console.log(`\n24 megapixels, in the page (load ${loadavg()[0].toFixed(2)})`);
    console.log(
      `subject found in ${first.toFixed(1)} s as the frame is first opened, in ${again.toFixed(1)} s as it is opened again, ` +
        `in ${later.toFixed(1)} s when it was looked at for ${LOOKED_AT_MS / 1000} s before`,
    );
    const { script, paint } = await stamps(page);
    console.log(`script time per brush stamp, median ${median(script).toFixed(1)} ms of ${script.length}`);
    console.log(`pointer to paint, median ${median(paint).toFixed(1)} ms of ${paint.length}`);
  });
}

async function pictureIn(page: Page): Promise<void> {
  await page.locator('.surface canvas').first().waitFor();
  await page.getByText('loading the picture').waitFor({ state: 'detached', timeout: 120_000 });
}

const subjectIn = (page: Page) =>
  page.getByRole('region', { name: 'What the mask is made of' }).getByText('subject', { exact: true });

async function findSubject(page: Page): Promise<number> {
  const before = Date.now();
  await page.getByRole('button', { name: /^Find subject/ }).click();
  await subjectIn(page).waitFor({ timeout: 120_000 });
  return (Date.now() - before) / 1000;
}

/** What was found before is taken back first; the machine is idle again by then. */
async function findSubjectAfterReload(page: Page, lookedAtMs: number): Promise<number> {
  await page.keyboard.press('Control+z');
  await subjectIn(page).waitFor({ state: 'detached' });
  await page.waitForTimeout(RESTED_MS);
  await page.reload();
  await pictureIn(page);
  await page.waitForTimeout(lookedAtMs);
  return findSubject(page);
}

/** Runs in the page: from each pointer event to the message that follows the next frame. */
const TAKE_PAINT_TIMES = `{
  const started = [];
  const after = new MessageChannel();
  window.paintTimes = [];
  after.port1.onmessage = () => window.paintTimes.push(performance.now() - started.shift());
  window.addEventListener('pointermove', ({ timeStamp }) => requestAnimationFrame(() => {
    started.push(timeStamp);
    after.port2.postMessage(0);
  }), true);
}`;

/** Script times from the browser's own trace; from the event to the frame after it, by the page's clock. */
async function stamps(page: Page): Promise<{ script: number[]; paint: number[] }> {
  await page.getByRole('tab', { name: 'Brush' }).click();
  await page.evaluate(TAKE_PAINT_TIMES);
  const session = await page.context().newCDPSession(page);
  const script: number[] = [];
  session.on('Tracing.dataCollected', ({ value }) => {
    for (const { name, dur, args } of value as unknown as {
      name: string;
      dur?: number;
      args?: { data?: { type?: string } };
    }[]) {
      if (name === 'EventDispatch' && args?.data?.type === 'pointermove' && dur) script.push(dur / 1000);
    }
  });
  const done = new Promise<void>((resolve) => session.once('Tracing.tracingComplete', () => resolve()));
  await session.send('Tracing.start', { categories: 'devtools.timeline', transferMode: 'ReportEvents' });
  const box = (await page.getByRole('region', { name: 'The frame and its mask' }).boundingBox())!;
  await page.mouse.move(box.x + 0.3 * box.width, box.y + 0.4 * box.height);
  await page.mouse.down();
  for (let i = 0; i < STAMPS; i++) {
    const turn = (2 * Math.PI * i) / 40;
    await page.mouse.move(
      box.x + (0.5 + 0.2 * Math.cos(turn)) * box.width,
      box.y + (0.5 + 0.2 * Math.sin(turn)) * box.height,
    );
  }
  await page.mouse.up();
  await session.send('Tracing.end');
  await done;
  const paint = await page.evaluate<number[]>('window.paintTimes');
  return { script, paint };
}

function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1] ?? NaN;
}
