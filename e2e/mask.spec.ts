import { join } from 'node:path';
import sharp from 'sharp';
import { beginWithTrials } from './proposals';
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
  await page.getByRole('tab', { name: 'Whole mask' }).click();
  await page.getByRole('button', { name: 'Save the mask' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe('puppet-mask.png');
  const facts = await sharp(await file.path()).metadata();
  expect([facts.width, facts.height, facts.depth, facts.channels]).toEqual([900, 600, 'ushort', 1]);
  await page.reload();
  await expect(list.getByRole('listitem')).toHaveCount(1);
  await expect(list.getByText('subject', { exact: true })).toBeVisible();
});

test('mask: bands, shapes and edges, a mask brought in, two masks with their own recovery, rendered', async ({
  page,
  server,
}) => {
  const puppet = await sharp(join(DEMO, 'frames', 'saltmere-0701.jpg'))
    .resize(600)
    .jpeg()
    .toBuffer();
  await page.goto(server.url);
  await page
    .getByLabel('Files to bring in')
    .setInputFiles([{ name: 'small-puppet.jpg', mimeType: 'image/jpeg', buffer: puppet }]);
  await page.getByRole('link', { name: /small-puppet\.jpg/ }).click();
  await page.getByRole('link', { name: /^Mask/ }).click();
  const surface = page.getByRole('region', { name: 'The frame and its mask' });
  await expect(surface.getByText('loading the picture')).toHaveCount(0);
  const list = page.getByRole('region', { name: 'What the mask is made of' });
  const masks = page.getByRole('region', { name: 'Masks', exact: true });
  const box = (await surface.boundingBox())!;
  const at = (x: number, y: number) => [box.x + x * box.width, box.y + y * box.height] as const;
  type Plan = {
    mask: { name: string; opacityPercent: number; operations: Record<string, unknown>[] };
    recovery: unknown;
  };
  const saved = async () => {
    await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
    const id = /frames\/([^/]+)/.exec(page.url())![1];
    const answer = await page.request.get(`${server.url}/api/frames/${id}`);
    const { saved: kept } = (await answer.json()) as { saved: { prescription: Plan & { masksBelow?: Plan[] } } };
    return kept.prescription;
  };

  // A tone band, its handles moved by keyboard and by pointer.
  await page.getByRole('tab', { name: 'Tone, focus, colour' }).click();
  await page.getByRole('button', { name: 'Add this band' }).click();
  await expect(list.getByRole('button', { name: /^tones 5 to 90 %/ })).toBeVisible({ timeout: 30_000 });
  const begins = page.getByRole('slider', { name: 'Tone band, begins' });
  await begins.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(list.getByRole('button', { name: /^tones 10 to 90 %/ })).toBeVisible({ timeout: 30_000 });
  const ends = (await page.getByRole('slider', { name: 'Tone band, ends' }).boundingBox())!;
  await page.mouse.move(ends.x + ends.width / 2, ends.y + ends.height / 2);
  await page.mouse.down();
  await page.mouse.move(ends.x + ends.width / 2 - 28, ends.y, { steps: 4 });
  await page.mouse.up();
  await expect(list.getByRole('button', { name: /^tones 10 to 80 %/ })).toBeVisible({ timeout: 30_000 });
  const toned = (await saved()).mask.operations[0] as { from: { band: number[] } };
  expect(toned.from.band[0]).toBeCloseTo(0.1, 3);

  // Only a round place of it, its edge softened afterwards; a colour picked and taken away.
  await page.getByRole('tab', { name: 'Shapes' }).click();
  await page.getByRole('button', { name: 'Keep only' }).click();
  await page.mouse.move(...at(0.5, 0.45));
  await page.mouse.down();
  await page.mouse.move(...at(0.6, 0.7), { steps: 5 });
  await page.mouse.up();
  await expect(list.getByRole('button', { name: 'only radial', exact: true })).toBeVisible();
  await page.getByRole('tab', { name: 'Edge' }).click();
  await page.getByLabel('Soften, number').fill('12');
  await page.keyboard.press('Enter');
  await expect(list.getByRole('button', { name: 'softened over 12 px', exact: true })).toBeVisible();
  await page.getByRole('tab', { name: 'Tone, focus, colour' }).click();
  await page.getByRole('button', { name: 'Colour' }).click();
  await page.getByRole('button', { name: 'Take away' }).click();
  await page.mouse.click(...at(0.45, 0.2));
  await expect(list.getByRole('button', { name: /^colour, ΔE 15, taken away/ })).toBeVisible({ timeout: 30_000 });
  await page.keyboard.press('Control+z');
  await expect(list.getByRole('listitem')).toHaveCount(3);
  expect((await saved()).mask.operations.map(({ kind }) => kind)).toEqual(['area', 'radial', 'feather']);

  // A second mask: brought in as a file; one of another size is refused with a sentence.
  await masks.getByRole('button', { name: 'new mask' }).click();
  await masks.getByLabel('Name of mask 2').fill('eyes');
  await expect(surface.locator('..').getByText('This mask is empty')).toBeVisible();
  await page.getByRole('tab', { name: 'Whole mask' }).click();
  const white = (width: number) => ({ create: { width, height: 400, channels: 3 as const, background: '#fff' } });
  const file = async (width: number) => ({
    name: `mask-${width}.png`,
    mimeType: 'image/png',
    buffer: await sharp(white(width)).greyscale().png().toBuffer(),
  });
  await page.getByLabel('Mask to bring in').setInputFiles([await file(300)]);
  await expect(page.getByText(/300 × 400 px, the frame 600 × 400 px/)).toBeVisible();
  await page.getByLabel('Mask to bring in').setInputFiles([await file(600)]);
  await expect(list.getByText('mask-600.png')).toBeVisible();
  await masks.getByLabel('Opacity of eyes').fill('50');
  await page.keyboard.press('Enter');
  const both = await saved();
  expect([both.mask.name, both.mask.opacityPercent, both.masksBelow![0].mask.name]).toEqual(['eyes', 50, 'subject']);

  // Each gets its own recovery.
  await page.getByRole('link', { name: /^Trials/ }).click();
  await beginWithTrials(page);
  await page.getByRole('button', { name: /^Choose A/ }).click();
  await masks.getByLabel('Work on subject').check();
  await beginWithTrials(page);
  await page.getByRole('button', { name: /^Choose A/ }).click();
  await page.getByRole('link', { name: /^Hand over/ }).click();
  const done = page.getByRole('region', { name: 'What will be done' });
  await expect(done.getByText(/under mask “eyes” at 50 %/)).toBeVisible();
  await expect(done.getByText(/under mask “subject” at 100 %/)).toBeVisible();
  await page.reload();
  await expect(done.getByText(/under mask “eyes” at 50 %/)).toBeVisible();
});
