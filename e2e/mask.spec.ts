import { join } from 'node:path';
import sharp from 'sharp';
import { DEMO, expect, test } from './server';

test('mask: the subject found, repaired by a dab, painted, parts left out, kept after a reload', async ({
  page,
  server,
}) => {
  const puppet = await sharp(join(DEMO, 'frames', 'saltmere-0701.jpg'))
    .resize(900)
    .jpeg()
    .toBuffer();
  await page.goto(server.url);
  await page
    .getByLabel('Files to bring in')
    .setInputFiles([{ name: 'puppet.jpg', mimeType: 'image/jpeg', buffer: puppet }]);
  await page.getByRole('link', { name: /puppet\.jpg/ }).click();
  await page.getByRole('link', { name: /^Mask/ }).click();
  const saved = async () => {
    await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
    const id = /frames\/([^/]+)/.exec(page.url())![1];
    const answer = await page.request.get(`${server.url}/api/frames/${id}`);
    const frame = (await answer.json()) as {
      saved: { prescription: { mask: { operations: { kind: string; key?: string; isOff?: boolean }[] } } };
    };
    return frame.saved.prescription.mask.operations;
  };
  const list = page.getByRole('region', { name: 'What the mask is made of' });
  const surface = page.getByRole('region', { name: 'The frame and its mask' });
  await expect(surface.getByText('loading the picture')).toHaveCount(0);

  await page.getByRole('button', { name: /^Find subject/ }).click();
  await expect(list.getByText('subject', { exact: true })).toBeVisible({ timeout: 60_000 });
  const found = (await saved())[0];
  expect(found.kind).toBe('area');

  // The veil lies over the shelf, not over the face.
  const box = (await surface.boundingBox())!;
  const at = (x: number, y: number) => [box.x + x * box.width, box.y + y * box.height] as const;
  const lightness = async (x: number, y: number) => {
    const shown = await page.screenshot();
    const [left, top] = at(x, y).map(Math.round);
    const pixels = await sharp(shown).removeAlpha().extract({ left, top, width: 12, height: 12 }).raw().toBuffer();
    return pixels.reduce((sum, value) => sum + value, 0) / pixels.length;
  };
  await expect.poll(() => lightness(0.14, 0.5)).toBeGreaterThan(150);
  await expect.poll(() => lightness(0.37, 0.57)).toBeLessThan(140);

  // A dab on what was missed finds it again; undo takes the dab back.
  await page.keyboard.press('t');
  await page.mouse.click(...at(0.3, 0.96));
  await expect(list.getByText('subject, 1 dab')).toBeVisible({ timeout: 60_000 });
  expect((await saved())[0].key).not.toBe(found.key);
  // Two more in a row: the second does not wait for the first, and neither is lost.
  await page.mouse.click(...at(0.3, 0.9));
  await page.mouse.click(...at(0.62, 0.96));
  await expect(list.getByText('subject, 3 dabs')).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('Control+z');
  await expect(list.getByText('subject, 1 dab')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(list.getByText('subject', { exact: true })).toBeVisible();
  expect((await saved())[0].key).toBe(found.key);

  // Painting lies over it; each act can be moved, left out, removed.
  await page.keyboard.press('x');
  await page.mouse.move(...at(0.45, 0.3));
  await page.mouse.down();
  await page.mouse.move(...at(0.55, 0.3), { steps: 5 });
  await page.mouse.up();
  await expect(list.getByText(/erased, \d+ px/)).toBeVisible();
  await list.getByRole('checkbox', { name: /Use 1, subject/ }).uncheck();
  expect((await saved()).map(({ isOff }) => isOff ?? false)).toEqual([true, false]);
  await list.getByRole('checkbox', { name: /Use 1, subject/ }).check();
  await list.getByRole('button', { name: /Later: 1, subject/ }).click();
  expect((await saved()).map(({ kind }) => kind)).toEqual(['stroke', 'area']);
  await page.getByLabel('View', { exact: true }).selectOption('Contours');
  await list.getByRole('button', { name: /Remove 1, erased/ }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as PNG' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe('puppet-mask.png');
  const facts = await sharp(await file.path()).metadata();
  expect([facts.width, facts.height, facts.depth, facts.channels]).toEqual([900, 600, 'ushort', 1]);
  await page.reload();
  await expect(list.getByRole('listitem')).toHaveCount(1);
  await expect(list.getByText('subject', { exact: true })).toBeVisible();
});
