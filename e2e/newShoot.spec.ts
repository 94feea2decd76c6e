import { join } from 'node:path';
import { DEMO, expect, test } from './server';

const FRAME = join(DEMO, 'frames', 'saltmere-0704.tif');
const heading = { level: 1 } as const;

test('a shoot is made by its name, or by dropping frames, and refuses to be without one', async ({ page, server }) => {
  await page.goto(server.url);
  const form = page.getByRole('region', { name: 'New shoot' });
  await form.getByRole('button', { name: 'Make an empty shoot' }).click();
  await expect(form.getByRole('alert')).toHaveText('Give the shoot a name.');
  await form.getByLabel('Name').fill('a'.repeat(121));
  await form.getByLabel('Name').press('Enter');
  await expect(form.getByRole('alert')).toHaveText('At most 120 letters.');

  await form.getByLabel('Name').fill('  Reed bank ');
  await form.getByLabel('Name').press('Enter');
  await expect(page.getByRole('heading', { ...heading, name: 'Reed bank' })).toBeVisible();
  await page.goto(server.url);
  await form.getByLabel('Files to bring in').setInputFiles([FRAME]);
  await expect(page.getByRole('heading', { ...heading, name: /^Shoot of / })).toBeVisible();
  await expect(page.getByRole('link', { name: /0704/ })).toBeVisible();
});
