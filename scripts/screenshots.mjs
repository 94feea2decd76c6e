import { chromium } from '@playwright/test';
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { buildPage, buildPrograms, SERVER } from './build.mjs';
import { ensurePackages, ensurePrograms, ROOT, TEST_PROGRAMS } from './setup.mjs';

/** Takes docs/screenshots: a fresh start with the demo shoot, and the job done on one frame. */
ensurePackages();
ensurePrograms(TEST_PROGRAMS);
buildPage();
buildPrograms();
const folder = join(ROOT, 'docs', 'screenshots');
mkdirSync(folder, { recursive: true });
const data = mkdtempSync(join(tmpdir(), 'vitrocept-shots-'));
const server = spawn(process.execPath, [SERVER], {
  cwd: ROOT,
  env: { ...process.env, VITROCEPT_DATA: data, PORT: '0' },
  stdio: ['ignore', 'pipe', 'inherit'],
});
const url = await new Promise((resolve) => {
  server.stdout.on('data', (chunk) => {
    const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(chunk));
    if (found) resolve(found[0]);
  });
});
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const shoot = (name) => page.screenshot({ path: join(folder, `${name}.png`) });
const SIZE = { width: 2160, height: 1440 };

async function stroke(points) {
  const box = await page.locator('.surface').boundingBox();
  const scale = Math.min(box.width / SIZE.width, box.height / SIZE.height);
  const left = box.x + (box.width - SIZE.width * scale) / 2;
  const top = box.y + (box.height - SIZE.height * scale) / 2;
  for (let i = 0; i < points.length; i++) {
    await page.mouse.move(left + points[i][0] * scale, top + points[i][1] * scale, { steps: 8 });
    if (i === 0) await page.mouse.down();
  }
  await page.mouse.up();
}

/** Opens a frame once it was looked after, and takes away what is proposed for it. */
async function begin(name) {
  const ask = async (path) => (await fetch(`${url}/api/${path}`)).json();
  const [shoot] = await ask('shoots');
  const { frames } = await ask(`shoots/${shoot.id}`);
  await page.goto(`${url}/frames/${frames.find((frame) => name.test(frame.name)).id}`);
  await page.getByText(/% sure/).waitFor({ timeout: 300_000 });
  for (const step of [/^Mask/, /^Trials/]) {
    await page.getByRole('link', { name: step }).click();
    await page.waitForTimeout(600);
    const away = page.getByRole('button', { name: 'Take it away' });
    if (await away.isVisible()) await away.click();
  }
}

await page.goto(url);
await page.waitForFunction(
  () => document.body.innerText.includes('52 frames') && !document.body.innerText.includes('not read yet'),
  undefined,
  {
    timeout: 300_000,
  },
);
await page.waitForTimeout(1500);
await shoot('shoots');
await page.getByRole('link', { name: /Saltmere/ }).click();
await page.waitForTimeout(2500);
await shoot('sort');
await begin(/0413/);
await page.getByRole('link', { name: /^Mask/ }).click();
await page.getByRole('tab', { name: 'Brush' }).click();
await page.getByLabel('Size, number').fill('230');
await page.keyboard.press('Enter');
await page.waitForTimeout(2500);
await stroke([
  [700, 380],
  [1000, 250],
  [1330, 300],
  [1480, 560],
  [1200, 560],
  [820, 560],
  [720, 700],
  [1000, 760],
  [1400, 720],
]);
await stroke([
  [760, 860],
  [1100, 900],
  [1480, 880],
  [1560, 1000],
  [1100, 1030],
  [720, 1020],
]);
await stroke([
  [720, 230],
  [760, 170],
  [830, 200],
]);
await stroke([
  [1360, 190],
  [1420, 130],
  [1500, 210],
  [1480, 320],
]);
await page.waitForTimeout(1200);
await page.getByRole('link', { name: /^Measure/ }).click();
await page.getByRole('button', { name: 'Measure here' }).click();
await page.getByText('Measuring …').waitFor({ state: 'detached', timeout: 300_000 });
await page.waitForTimeout(2500);
await shoot('measure');
await page.getByRole('link', { name: /^Trials/ }).click();
const map = await page.locator('.overview-map').boundingBox();
for (const [x, y] of [
  [744, 575],
  [880, 800],
  [1010, 330],
]) {
  await page.mouse.click(map.x + (x / SIZE.width) * map.width, map.y + (y / SIZE.height) * map.height);
}
await page.getByRole('button', { name: 'Suggested trials' }).click();
for (const [i, name] of ['eye', 'whiskers', 'fur'].entries())
  await page.getByLabel(`Name of probe ${i + 1}`).fill(name);
await page.waitForFunction(
  () => {
    const cells = [...document.querySelectorAll('.wall-cell')].filter((cell) => !cell.closest('.is-afar'));
    return cells.length === 12 && cells.every((cell) => cell.dataset.state === 'current');
  },
  undefined,
  { timeout: 240_000 },
);
await page.locator('.brand').hover();
await page.waitForFunction(() => !document.body.innerText.includes('being audited'), undefined, { timeout: 240_000 });
await page.getByRole('button', { name: /Choose A/ }).click();
await page.waitForTimeout(600);
await shoot('trials');
await page.getByLabel('Trial C at probe 1').dblclick();
await page.waitForTimeout(1500);
await shoot('close-look');
await page.keyboard.press('Escape');
await page.keyboard.press('s');
await page.getByLabel('How many').fill('9');
await page.getByRole('button', { name: 'Make the strip' }).click();
const elsewhere = await sharp(join(ROOT, 'demo', 'frames', 'saltmere-0413.jpg'))
  .extract({ left: 33, top: 21, width: 1900, height: 1300 })
  .sharpen({ sigma: 2.5, m1: 3, m2: 4 })
  .jpeg({ quality: 95 })
  .toBuffer();
await page
  .getByLabel('Outside version to bring in')
  .setInputFiles([{ name: 'elsewhere.jpg', mimeType: 'image/jpeg', buffer: elsewhere }]);
await page.getByText('elsewhere.jpg').waitFor({ timeout: 120_000 });
await page.waitForFunction(
  () =>
    [...document.querySelectorAll('.wall-cell')].every(
      (cell) => cell.closest('.is-afar') || cell.dataset.state === 'current',
    ) && !document.body.innerText.includes('being audited'),
  undefined,
  { timeout: 300_000 },
);
await page.locator('.wall').evaluate((wall) => wall.scrollTo(2000, 0));
await page.waitForTimeout(400);
await shoot('twelve-trials');
await page.keyboard.press('w');
await page.waitForTimeout(2500);
await shoot('which-is-better');
await page.keyboard.press('Escape');
await page.getByRole('link', { name: /^Hand over/ }).click();
await page.getByRole('button', { name: 'Render and save a copy' }).click();
await page.locator('article[data-state="done"]').waitFor({ timeout: 300_000 });
await page.waitForTimeout(600);
await shoot('hand-over');
await page.getByRole('link', { name: /^Corrections/ }).click();
await page.getByRole('button', { name: 'All Automatic' }).click();
await page.waitForTimeout(1500);
await page.getByLabel('Lift shadows, number').fill('35');
await page.keyboard.press('Enter');
await page.waitForTimeout(2500);
await shoot('corrections');
await page.getByRole('link', { name: /^Finishing/ }).click();
await page.getByLabel('Crop', { exact: true }).selectOption('4 : 3');
await page.getByLabel('Straighten, number').fill('3');
await page.keyboard.press('Enter');
await page.waitForTimeout(2500);
await shoot('finishing');
await begin(/0704/);
await page.getByRole('link', { name: /^Trials/ }).click();
await page.getByRole('button', { name: 'All methods on Automatic' }).click();
await page.keyboard.press('p');
await page.waitForTimeout(2500);
const PUPPET = { width: 1080, height: 760 };
const room = await page.locator('.likeness-picture .surface').boundingBox();
const scale = Math.min(room.width / PUPPET.width, room.height / PUPPET.height);
for (const [part, x, y, radius] of [
  ['right eye', 514, 382, 80],
  ['right iris', 515, 380, 38],
  ['left eye', 752, 402, 72],
  ['left iris', 754, 404, 36],
  ['nose', 704, 486, 88],
  ['lips', 586, 660, 110],
]) {
  await page.getByRole('group', { name: 'Place a part by hand' }).getByText(part, { exact: true }).click();
  const left = room.x + (room.width - PUPPET.width * scale) / 2 + x * scale;
  const top = room.y + (room.height - PUPPET.height * scale) / 2 + y * scale;
  await page.mouse.move(left, top);
  await page.mouse.down();
  await page.mouse.move(left + radius * scale, top, { steps: 6 });
  await page.mouse.up();
}
await page.waitForFunction(() => !document.body.innerText.includes('being judged'), undefined, { timeout: 240_000 });
await page.locator('.brand').hover();
await page.waitForTimeout(600);
await shoot('likeness');
await begin(/0418/);
await page.getByRole('link', { name: /^Noise/ }).click();
await page.waitForTimeout(800);
const small = await page.locator('.overview-map').boundingBox();
for (const [x, y] of [
  [744, 575],
  [1850, 300],
  [1010, 330],
]) {
  await page.mouse.click(small.x + (x / SIZE.width) * small.width, small.y + (y / SIZE.height) * small.height);
}
await page.getByRole('button', { name: 'Clean on Automatic' }).click();
await page.getByLabel('only in a tone band').check();
await page.locator('.brand').hover();
await page.waitForFunction(
  () =>
    [...document.querySelectorAll('.wall-cell')].every(
      (cell) => cell.closest('.is-afar') || cell.dataset.state === 'current',
    ) && !document.body.innerText.includes('being checked'),
  undefined,
  { timeout: 120_000 },
);
await page.waitForTimeout(600);
await shoot('noise');
await begin(/0701/);
await page.getByRole('link', { name: /^Mask/ }).click();
await page.waitForTimeout(3000);
await page.getByRole('button', { name: /^Find subject/ }).click();
await page.getByText('Finding the subject').waitFor({ state: 'detached', timeout: 60_000 });
await page.waitForTimeout(1500);
await shoot('mask');
await page.goto(`${url}/`);
await page.getByRole('link', { name: /Saltmere/ }).click();
// The sheet draws only what is in sight.
for (const i of [0, 1, 2, 3])
  await page
    .getByRole('checkbox', { name: /saltmere/ })
    .nth(i)
    .click();
await page.getByRole('button', { name: /Use a kept prescription on/ }).click();
await page.getByLabel('Format').selectOption('jpeg');
await page.getByRole('button', { name: 'Begin' }).click();
await page.getByText(/through · 4 done/).waitFor({ timeout: 400_000 });
await page.waitForTimeout(1500);
await shoot('round');
await page.getByRole('link', { name: 'prescriptions', exact: true }).click();
await page.waitForTimeout(800);
await shoot('kept-prescriptions');
await page.goto(`${url}/practice`);
await page.waitForFunction(() =>
  [...document.querySelectorAll('.practice-view img')].some(
    ({ complete, naturalWidth }) => complete && naturalWidth > 0,
  ),
);
await page.waitForTimeout(800);
await shoot('practice');
await browser.close();
server.kill('SIGTERM');
await new Promise((resolve) => server.once('exit', resolve));
rmSync(data, { recursive: true, force: true });
