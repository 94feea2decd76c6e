import AxeBuilder from '@axe-core/playwright';
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { DEMO, expect, test } from './server';

const small = (name: string) =>
  sharp(join(DEMO, 'frames', name))
    .resize(320)
    .png()
    .toBuffer();

test('a round: a prescription kept, used on chosen frames, the server killed in the middle, looked through', async ({
  page,
  server,
}) => {
  await page.goto(server.url);
  const names = ['0411', '0413', '0533', '0801'];
  const files = await Promise.all(
    names.map(async (number) => ({
      name: `part-${number}.png`,
      mimeType: 'image/png',
      buffer: await small(`saltmere-${number}.jpg`),
    })),
  );
  await page.getByLabel('Files to bring in').setInputFiles(files);
  await expect(page).toHaveURL(/\/shoots\//);
  const shoot = page.url();
  await expect(page.getByText('4 of 4 came in')).toBeVisible();

  // A prescription is kept from a frame: here, cleaned as it is.
  await page.getByRole('link', { name: /part-0411/ }).click();
  await expect(page.getByText(/% sure/)).toBeVisible();
  await page.getByRole('link', { name: /^Noise/ }).click();
  await page.getByRole('button', { name: 'Clean on Automatic' }).click();
  await page.getByRole('link', { name: /^Hand over/ }).click();
  await page.getByRole('button', { name: 'Keep this prescription …' }).click();
  const keep = page.getByRole('dialog');
  await keep.getByLabel('Name').fill('Quiet reeds');
  await keep.getByLabel('Cleaning').selectOption('as it is here');
  await expect(keep.getByText('Cleans noise with the settings kept.')).toBeVisible();
  await keep.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(keep).toHaveCount(0);
  await page.getByRole('link', { name: 'prescriptions' }).click();
  await expect(page.getByRole('article', { name: 'Quiet reeds' })).toBeVisible();

  // All four are chosen; the round is begun.
  await page.goto(shoot);
  await page.getByRole('group', { name: 'Chosen frames' }).getByRole('button', { name: 'all' }).click();
  await page.getByRole('button', { name: 'Use a kept prescription on 4' }).click();
  const form = page.getByRole('dialog');
  await form.getByLabel('Prescription').selectOption('Quiet reeds');
  await form.getByLabel('Names').fill('{oops}');
  await expect(form.getByRole('alert')).toContainText('{oops} is not known');
  await form.getByLabel('Names').fill('{counter} {frame}');
  await expect(form.getByText(/First: 001 part-0411\.tiff/)).toBeVisible();
  await form.getByLabel('Folder in the outbox').fill('Reeds');
  await form.getByRole('button', { name: 'Begin' }).click();
  await expect(page.getByRole('heading', { name: 'Quiet reeds' })).toBeVisible();

  // Killed in the middle, it goes on where it was.
  await server.stop('SIGKILL');
  await server.start();
  await page.reload();
  await expect(page.getByText('through · 4 done')).toBeVisible();
  const outbox = join(server.data, 'outbox', 'Reeds');
  const written = names.map((number, i) => `00${i + 1} part-${number}.tiff`);
  expect((await readdir(outbox)).sort()).toEqual(written);

  // Looked through by keys: the second is taken back, the others accepted.
  const cards = page.getByRole('region', { name: 'Look through' }).getByRole('article');
  await expect(cards).toHaveCount(4);
  await expect(cards.first().getByRole('img', { name: 'part-0411.png after' })).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).analyze();
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
  expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0].html}`)).toEqual([]);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('b');
  await expect(cards.nth(1).getByRole('button', { name: /taken back/ })).toBeVisible();
  await expect.poll(() => readdir(outbox).then((all) => all.length)).toBe(3);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(cards.nth(2).getByRole('button', { name: 'accepted' })).toBeVisible();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('b');
  await expect.poll(() => readdir(outbox).then((all) => all.length)).toBe(4);
});
