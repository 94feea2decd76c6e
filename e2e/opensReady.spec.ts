import { join } from 'node:path';
import sharp from 'sharp';
import { DEMO, expect, test } from './server';

test('opens ready: a soft frame is dropped, nothing is pressed, and the Wall shows what can be done at its subject', async ({
  page,
  server,
}) => {
  await page.goto(server.url);
  await page.getByLabel('Files to bring in').setInputFiles([join(DEMO, 'frames', 'saltmere-0704.tif')]);
  await page.getByRole('link', { name: /saltmere-0704/ }).click();
  await page.goto(`${page.url().replace(/\/(measure|trials).*$/, '')}/trials`);
  const wall = page.getByRole('grid', { name: 'Wall' });
  await expect(wall.getByRole('img', { name: 'Original at probe 1' })).toBeVisible();
  for (const letter of ['A', 'B', 'C']) {
    const cell = wall.locator('.wall-cell', { has: page.getByRole('img', { name: `Trial ${letter} at probe 1` }) });
    await expect(cell).toHaveAttribute('data-state', 'current');
  }
  await expect(page.getByText('Proposed from what was read; nothing is chosen yet.')).toBeVisible();
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  const { saved } = (await (await page.request.get(`${server.url}/api/frames/${id}`)).json()) as {
    saved: { prescription: { probes: { x: number; y: number }[]; proposed: string[]; recovery: unknown } };
  };
  expect(saved.prescription.recovery).toBeNull();
  expect(saved.prescription.proposed).toContain('trials');
  // Every probe lies on the subject, as its maker drew it.
  const { data, info } = await sharp(join(DEMO, 'masks', 'saltmere-0704.png'))
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  for (const { x, y } of saved.prescription.probes) expect(data[y * info.width + x]).toBeGreaterThan(0);

  // A probe is placed on the large view, and what was proposed is one's own from then on.
  await page.getByRole('button', { name: 'Place on the large view' }).click();
  const large = page.getByRole('region', { name: 'The frame, to place probes on' });
  await expect(large.getByText('loading the picture')).toHaveCount(0);
  const before = saved.prescription.probes.length;
  const box = (await large.boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + 40);
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(wall.getByRole('img', { name: `Original at probe ${before + 1}` })).toBeVisible();
});

test('loop: drawn round one of two sharp things, only that is meant', async ({ page, server }) => {
  const picture = await twoDiscs();
  await page.goto(server.url);
  await page
    .getByLabel('Files to bring in')
    .setInputFiles([{ name: 'two.png', mimeType: 'image/png', buffer: picture }]);
  await page.getByRole('link', { name: /two\.png/ }).click();
  await page.getByRole('link', { name: /^Mask/ }).click();
  const surface = page.getByRole('region', { name: 'The frame and its mask' });
  await expect(surface).toBeVisible();
  await expect(surface.getByText('loading the picture')).toHaveCount(0);
  await page.keyboard.press('l');
  await expect(page.getByText('Draw a loose loop round what you mean')).toBeVisible();
  const box = (await surface.boundingBox())!;
  const scale = Math.min(box.width / 900, box.height / 600, 1);
  const at = (x: number, y: number) =>
    [box.x + (box.width - 900 * scale) / 2 + x * scale, box.y + (box.height - 600 * scale) / 2 + y * scale] as const;
  await page.mouse.move(...at(400, 300));
  await page.mouse.down();
  for (let k = 1; k <= 40; k++) {
    const angle = (2 * Math.PI * k) / 40;
    await page.mouse.move(...at(250 + 150 * Math.cos(angle), 300 + 150 * Math.sin(angle)));
  }
  await page.mouse.up();
  const list = page.getByRole('region', { name: 'What the mask is made of' });
  await expect(list.getByText(/in a loop/)).toBeVisible();
  await page.getByRole('tab', { name: 'Whole mask' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save the mask' }).click();
  const mask = await sharp(await (await download).path())
    .greyscale()
    .raw({ depth: 'uchar' })
    .toBuffer();
  const share = (x0: number) => {
    let [inside, all] = [0, 0];
    for (let y = 0; y < 600; y++) {
      for (let x = x0 - 110; x <= x0 + 110; x++) {
        if (Math.hypot(x - x0, y - 300) > 100) continue;
        all++;
        if (mask[y * 900 + x] > 127) inside++;
      }
    }
    return inside / all;
  };
  expect(share(250)).toBeGreaterThan(0.9);
  expect(share(650)).toBe(0);
});

/** Two discs of fine texture, equally sharp, before a soft ground. */
async function twoDiscs(): Promise<Buffer> {
  const pixels = Buffer.alloc(900 * 600 * 3);
  for (let y = 0; y < 600; y++) {
    for (let x = 0; x < 900; x++) {
      const isDisc = Math.hypot(x - 250, y - 300) < 100 || Math.hypot(x - 650, y - 300) < 100;
      const grain = ((x * 7919 + y * 104729) % 97) - 48;
      const ground = 90 + 30 * Math.sin(x / 140) + 20 * Math.cos(y / 110);
      const i = 3 * (y * 900 + x);
      pixels[i] = isDisc ? 150 + grain : ground;
      pixels[i + 1] = isDisc ? 110 + grain : ground + 12;
      pixels[i + 2] = isDisc ? 70 + grain : ground + 20;
    }
  }
  return sharp(pixels, { raw: { width: 900, height: 600, channels: 3 } })
    .png()
    .toBuffer();
}
