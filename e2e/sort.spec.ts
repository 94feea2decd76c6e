import AxeBuilder from '@axe-core/playwright';
import { join } from 'node:path';
import sharp from 'sharp';
import { DEMO, expect, test } from './server';

const cut = (file: string, left: number, top: number) =>
  sharp(join(DEMO, 'frames', file))
    .extract({ left, top, width: 360, height: 300 })
    .png()
    .toBuffer();

test('sort: chosen by a rectangle in the chart, put into piles by hand, looked at one after the other, to the trash', async ({
  page,
  server,
}) => {
  await page.goto(server.url);
  const files = [
    { name: 'face.png', buffer: await cut('saltmere-0701.jpg', 780, 380) },
    { name: 'star.png', buffer: await cut('saltmere-0801.jpg', 720, 130) },
    { name: 'fur.png', buffer: await cut('saltmere-0411.jpg', 600, 450) },
  ].map((file) => ({ ...file, mimeType: 'image/png' }));
  await page.getByLabel('Files to bring in').setInputFiles(files);
  await expect(page).toHaveURL(/\/shoots\//);
  for (const { name } of files) {
    await expect(page.getByRole('link', { name: new RegExp(name) }).getByText(/noise \d/)).toBeVisible();
  }

  // A rectangle over all marks chooses all; 4 puts them where a person says, and Ctrl Z back to where they were
  // measured.
  const chart = page.getByRole('figure', { name: 'Blur against noise' });
  const box = (await chart.locator('svg').boundingBox())!;
  await page.mouse.move(box.x + 28, box.y + 4);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 14, box.y + box.height - 32, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Use a kept prescription on 3' })).toBeVisible();
  await page.keyboard.press('4');
  await expect(page.getByText('3 frames put into “Beyond recovery” by hand.')).toBeVisible();
  await expect(page.getByText(/Beyond recovery by hand/)).toHaveCount(3);
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/^Undone: /)).toBeVisible();
  await expect(page.locator('.frame-card').getByText(/by hand/)).toHaveCount(0);

  // One after the other, by keys alone; what was done is there after a reload.
  await page.getByRole('tab', { name: 'One after the other' }).click();
  const large = page.getByRole('region', { name: 'One after the other' });
  const name = async () => (await large.getByRole('heading').innerText()).split('.png')[0];
  await expect(large.getByText('1 of 3')).toBeVisible();
  const first = await name();
  await page.keyboard.press('ArrowRight');
  await expect(large.getByText('2 of 3')).toBeVisible();
  expect(await name()).not.toBe(first);
  const second = await name();
  await page.keyboard.press('2');
  await expect(page.getByText(`${second}.png put into “Grainy” by hand.`)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.reload();
  await expect(page.getByRole('link', { name: new RegExp(second) }).getByText('Grainy by hand')).toBeVisible();

  // The table: narrowed by a filter, sorted by a press.
  await page.getByRole('tab', { name: 'Table' }).click();
  const rows = page.getByRole('row').filter({ has: page.getByRole('checkbox') });
  await expect(rows).toHaveCount(3);
  await page.getByRole('button', { name: 'Noise, %' }).click();
  const noises = (await rows.locator('td:nth-child(6)').allInnerTexts()).map(Number);
  expect(noises).toEqual([...noises].sort((a, b) => b - a));
  await page.getByLabel('Name contains').fill('fu');
  await expect(rows).toHaveCount(1);
  await page.getByRole('button', { name: 'choose these 1' }).click();
  const { violations } = await new AxeBuilder({ page }).analyze();
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
  expect(serious.map(({ id, nodes }) => `${id}: ${nodes[0].html}`)).toEqual([]);

  // Renamed, removed, put back, removed for good.
  await page.getByRole('button', { name: 'rename', exact: true }).last().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name of the frame').fill('otter fur.png');
  await dialog.getByRole('button', { name: 'Rename' }).click();
  await page.getByLabel('Name contains').fill('otter');
  await expect(page.getByRole('link', { name: 'otter fur.png' })).toBeVisible();
  await page.getByRole('button', { name: 'remove 1' }).click();
  await expect(page.getByText('No frame passes these filters.')).toBeVisible();
  await page.goto(`${server.url}/trash`);
  await page.getByRole('button', { name: 'put back' }).click();
  await expect(page.getByText('Nothing lies here.')).toBeVisible();
  await page.goBack();
  await page.getByRole('tab', { name: 'Piles' }).click();
  await page.getByRole('checkbox', { name: 'Choose otter fur.png' }).click();
  await page.keyboard.press('Delete');
  await expect(page.getByRole('link', { name: /otter fur/ })).toHaveCount(0);
  await page.goto(`${server.url}/trash`);
  await page.getByRole('button', { name: 'Empty the trash …' }).click();
  await page.getByRole('button', { name: 'Throw away' }).click();
  await expect(page.getByText(/1 frame is gone for good/)).toBeVisible();
});
