import { join } from 'node:path';
import sharp from 'sharp';
import { beginWithTrials } from './proposals';
import { DEMO, expect, test } from './server';

/** A public-domain portrait that comes with python3-skimage; only looked at here, never kept. */
const PORTRAIT = '/usr/lib/python3/dist-packages/skimage/data/astronaut.png';

test('likeness: a person found by the model, a puppet placed by hand, judged, kept with the choice', async ({
  page,
  server,
}) => {
  const puppet = await sharp(join(DEMO, 'frames', 'saltmere-0704.tif'))
    .extract({ left: 300, top: 180, width: 500, height: 420 })
    .png()
    .toBuffer();
  const person = await sharp(PORTRAIT).blur(1.2).png().toBuffer();
  await page.goto(server.url);
  const strangers: string[] = [];
  page.on('request', (request) => {
    if (!/^(http:\/\/127\.0\.0\.1|blob:|data:)/.test(request.url())) strangers.push(request.url());
  });
  await page.getByLabel('Files to bring in').setInputFiles([
    { name: 'person.png', mimeType: 'image/png', buffer: person },
    { name: 'puppet.png', mimeType: 'image/png', buffer: puppet },
  ]);
  const room = page.getByRole('region', { name: 'Likeness' });
  const rows = room.getByRole('listitem');
  const open = async (name: RegExp) => {
    const card = page.getByRole('link', { name });
    await expect(card.getByText(/noise \d/)).toBeVisible({ timeout: 150_000 });
    await card.click();
    await page.getByRole('link', { name: /^Trials/ }).click();
    await beginWithTrials(page);
    await page.keyboard.press('p');
    await expect(room).toBeVisible();
  };

  await expect(page.getByRole('link', { name: /puppet\.png/ })).toBeVisible({ timeout: 60_000 });
  const sheet = page.url();
  await open(/person\.png/);
  await room.getByRole('button', { name: 'Find faces' }).click();
  await expect(rows).toHaveCount(9, { timeout: 60_000 });
  await expect(room.getByText('being judged')).toHaveCount(0, { timeout: 120_000 });
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  const { saved } = (await (await page.request.get(`${server.url}/api/frames/${id}`)).json()) as {
    saved: { prescription: { faces: { parts: { part: string; x: number; y: number; rx: number }[] }[] } };
  };
  const parts = saved.prescription.faces[0].parts;
  const of = (name: string) => parts.find(({ part }) => part === name)!;
  // By eye on the picture of 512 × 512 px: the pupils at (204, 101) and (247, 103), the middle of the lips at (223,
  // 146).
  expect(Math.hypot(of('right eye').x - 204, of('right eye').y - 101)).toBeLessThan(6);
  expect(Math.hypot(of('left eye').x - 247, of('left eye').y - 103)).toBeLessThan(6);
  expect(Math.hypot(of('lips').x - 223, of('lips').y - 146)).toBeLessThan(8);
  expect(Math.abs(of('left iris').x - of('left eye').x)).toBeLessThan(of('left eye').rx);
  expect(Math.abs(of('right iris').x - of('right eye').x)).toBeLessThan(of('right eye').rx);
  expect(strangers).toEqual([]);

  // No person there: said, and the parts are placed by hand.
  await page.goto(sheet);
  await open(/puppet\.png/);
  await room.getByRole('button', { name: 'Find faces' }).click();
  await expect(room.getByText(/No face of a person was found/)).toBeVisible({ timeout: 60_000 });
  const surface = room.getByRole('region', { name: 'The frame and its faces' }).locator('canvas').last();
  const box = (await surface.boundingBox())!;
  for (const [name, x, y] of [
    ['left eye', 0.5, 0.45],
    ['nose', 0.35, 0.6],
  ] as const) {
    await room.getByRole('button', { name, exact: true }).click();
    await page.mouse.move(box.x + x * box.width, box.y + y * box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + x * box.width + 18, box.y + y * box.height, { steps: 4 });
    await page.mouse.up();
  }
  await expect(rows).toHaveCount(2);
  await expect(room.getByText('being judged')).toHaveCount(0, { timeout: 120_000 });
  await expect(rows.first().getByText(/As in the photograph|Moved by|colour has turned|contradicts/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(rows).toHaveCount(1);
  await page.keyboard.press('Control+Shift+z');
  await expect(rows).toHaveCount(2);

  // Chosen, its likeness is read in Hand over, after a reload too.
  await page.keyboard.press('Escape');
  await page.keyboard.press('Enter');
  await expect(page.locator('.trial-head .chosen-mark')).toBeVisible();
  await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
  await page.getByRole('link', { name: /^Hand over/ }).click();
  await page.reload();
  await expect(page.getByText(/by hand 1, left eye:/)).toBeVisible();
});
