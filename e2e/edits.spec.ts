import type { Page } from '@playwright/test';
import { join } from 'node:path';
import { DEMO, expect, test } from './server';

const SECOND = join(DEMO, 'frames', 'saltmere-0704.tif');

async function frames(page: Page, url: string): Promise<{ id: string; name: string }[]> {
  const [shoot] = await (await page.request.get(`${url}/api/shoots`)).json();
  return (await (await page.request.get(`${url}/api/shoots/${shoot.id}`)).json()).frames;
}

interface Saved {
  readonly revision: number;
  readonly prescription: { readonly mask: { readonly operations: { kind: string }[] } };
}

async function saved(page: Page, url: string, id: string): Promise<Saved> {
  return (await (await page.request.get(`${url}/api/frames/${id}`)).json()).saved;
}

const kinds = async (page: Page, url: string, id: string) =>
  (await saved(page, url, id)).prescription.mask.operations.map(({ kind }) => kind);

/** Through the page's own links, so that the page is not loaded anew. */
async function toFrame(page: Page, name: RegExp): Promise<void> {
  await page.getByRole('navigation', { name: 'Where you are' }).getByRole('link').first().click();
  await page.getByRole('link', { name }).click();
  await page.getByRole('link', { name: /^Mask/ }).click();
  await page.getByRole('tab', { name: 'Whole mask' }).click();
}

test('work is there again on coming back: to a frame, after a reload, and when it could not be saved', async ({
  page,
  server,
}) => {
  const { url } = server;
  await page.goto(url);
  await page.getByRole('link', { name: /Saltmere/ }).click();
  await page.getByLabel('Files to bring in').setInputFiles([SECOND]);
  await expect(page.getByRole('link', { name: /0704/ })).toBeVisible();
  const [first, second] = await frames(page, url).then((all) => [
    all.find(({ name }) => name.includes('0801'))!,
    all.find(({ name }) => name.includes('0704'))!,
  ]);

  // A → edit → B → edit → A: what is shown is what was done, and nobody else has changed anything.
  await page.goto(`${url}/frames/${first.id}/mask`);
  await page.getByRole('tab', { name: 'Whole mask' }).click();
  await page.getByRole('button', { name: 'Fill' }).click();
  await toFrame(page, /0704/);
  await page.getByRole('button', { name: 'Invert' }).click();
  await toFrame(page, /0801/);
  await expect(page.getByRole('region', { name: 'What the mask is made of' })).toContainText(/fill/i);
  await page.getByRole('button', { name: 'Invert' }).click();
  await expect(page.getByRole('status').filter({ hasText: /^saved$/ })).toBeVisible();
  await expect(page.getByText('changed in another window')).toHaveCount(0);
  expect(await kinds(page, url, first.id)).toEqual(['fill', 'invert']);
  expect(await kinds(page, url, second.id)).toEqual(['invert']);

  // Undo reaches behind a reload.
  await page.reload();
  await expect(page.getByRole('button', { name: 'undo', exact: true })).toBeEnabled();
  await page.getByRole('button', { name: 'undo', exact: true }).click();
  await expect.poll(() => kinds(page, url, first.id)).toEqual(['fill']);

  // What could not be saved is asked about on leaving, kept, and offered afterwards.
  await server.stop();
  await page.getByRole('tab', { name: 'Whole mask' }).click();
  await page.getByRole('button', { name: 'Invert' }).click();
  await expect(page.getByText(/not saved: The server does not answer/)).toBeVisible();
  let asked = '';
  page.once('dialog', (dialog) => {
    asked = dialog.type();
    void dialog.accept();
  });
  await page.goto('about:blank');
  expect(asked).toBe('beforeunload');
  await server.start();
  await page.goto(url);
  await expect(page.getByRole('status').filter({ hasText: 'not saved' })).toContainText('saltmere-0801');
  await page.getByRole('link', { name: 'saltmere-0801.jpg', exact: true }).click();
  const offer = page.getByRole('alert').filter({ hasText: 'were not saved when the page was left' });
  await expect(offer).toBeVisible();
  expect(await kinds(page, url, first.id)).toEqual(['fill']);
  await offer.getByRole('button', { name: 'Bring them back' }).click();
  await expect.poll(() => kinds(page, url, first.id)).toEqual(['fill', 'invert']);
  await expect(offer).toHaveCount(0);
});

test('switches answer to the space bar, and a number field that is only looked into changes nothing', async ({
  page,
  server,
}) => {
  const { url } = server;
  await page.goto(url);
  await expect.poll(async () => (await frames(page, url)).length).toBe(1);
  const [{ id }] = await frames(page, url);
  await expect
    .poll(async () => (await (await page.request.get(`${url}/api/frames/${id}`)).json()).firstReading.state, {
      timeout: 150_000,
    })
    .toBe('done');
  await page.goto(`${url}/frames/${id}/measure`);
  const clipping = page.getByLabel(/show clipping/i);
  await clipping.focus();
  const was = await clipping.isChecked();
  await page.keyboard.press('Space');
  expect(await clipping.isChecked()).toBe(!was);
  await expect(page.getByRole('status').filter({ hasText: /^saved$/ })).toBeVisible();

  const before = await saved(page, url, id);
  const cause = page.getByLabel('Cause of the blur');
  if ((await cause.inputValue()) !== 'none') {
    const size = page.getByLabel('Blur size, number');
    await size.focus();
    await page.keyboard.press('Tab');
    await page.waitForTimeout(600);
    expect(await saved(page, url, id)).toEqual(before);
  }
  // A shake of 60 px stays one.
  await cause.selectOption('missed-focus');
  const size = page.getByLabel('Blur size, number');
  await size.fill('60');
  await page.keyboard.press('Enter');
  await expect.poll(async () => JSON.stringify((await saved(page, url, id)).prescription)).toContain('"blurSizePx":60');
  const told = await saved(page, url, id);
  await size.focus();
  await page.keyboard.press('Tab');
  await size.fill('');
  await page.keyboard.press('Tab');
  await page.waitForTimeout(600);
  expect(await saved(page, url, id)).toEqual(told);
});
