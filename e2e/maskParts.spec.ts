import { join } from 'node:path';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { DEMO, expect, test, type TestServer } from './server';

/** A public-domain portrait that comes with python3-skimage; only looked at here, never kept. */
const PORTRAIT = '/usr/lib/python3/dist-packages/skimage/data/astronaut.png';

interface Operation {
  readonly kind: string;
  readonly sizePx?: number;
  readonly points?: readonly number[];
  readonly pressures?: readonly number[];
}

interface Plan {
  readonly mask: { readonly operations: readonly Operation[] };
}

interface Saved extends Plan {
  readonly masksBelow?: readonly Plan[];
}

async function savedOf(page: Page, server: TestServer, id: string): Promise<Saved> {
  const answer = await page.request.get(`${server.url}/api/frames/${id}`);
  return ((await answer.json()) as { saved: { prescription: Saved } }).saved.prescription;
}

const idOf = (address: string) => /frames\/([^/]+)/.exec(address)![1];

async function openMask(page: Page, name: RegExp): Promise<string> {
  await page.getByRole('link', { name }).click();
  await page.getByRole('link', { name: /^Mask/ }).click();
  const surface = page.getByRole('region', { name: 'The frame and its mask' });
  await expect(surface.locator('canvas').first()).toBeVisible();
  await expect(surface.getByText('loading the picture')).toHaveCount(0);
  return idOf(page.url());
}

test('mask: painted with a pen, copied to another frame as it is, then found again there', async ({ page, server }) => {
  const puppet = sharp(join(DEMO, 'frames', 'saltmere-0701.jpg'));
  const large = await puppet.clone().resize(900).jpeg().toBuffer();
  const small = await puppet.clone().resize(450).jpeg().toBuffer();
  await page.goto(server.url);
  await page.getByLabel('Files to bring in').setInputFiles([
    { name: 'large.jpg', mimeType: 'image/jpeg', buffer: large },
    { name: 'small.jpg', mimeType: 'image/jpeg', buffer: small },
  ]);
  await expect(page.getByRole('link', { name: /small\.jpg/ })).toBeVisible({ timeout: 60_000 });
  const other = idOf((await page.getByRole('link', { name: /small\.jpg/ }).getAttribute('href'))!);
  const own = await openMask(page, /large\.jpg/);

  await page.getByRole('tab', { name: 'Brush' }).click();
  const box = (await page.getByRole('region', { name: 'The frame and its mask' }).boundingBox())!;
  const session = await page.context().newCDPSession(page);
  const pen = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', share: number, force: number) =>
    session.send('Input.dispatchMouseEvent', {
      type,
      x: box.x + share * box.width,
      y: box.y + 0.5 * box.height,
      button: 'left',
      buttons: type === 'mouseReleased' ? 0 : 1,
      clickCount: 1,
      pointerType: 'pen',
      force,
    });
  await pen('mousePressed', 0.4, 0.25);
  for (let i = 1; i <= 8; i++) await pen('mouseMoved', 0.4 + 0.03 * i, 0.25 + 0.09 * i);
  await pen('mouseReleased', 0.64, 0);
  await expect.poll(async () => (await savedOf(page, server, own)).mask.operations.length).toBe(1);
  const [stroke] = (await savedOf(page, server, own)).mask.operations;
  expect(stroke.pressures![0]).toBeCloseTo(0.25, 2);
  expect(stroke.pressures!.at(-1)).toBeGreaterThan(0.9);
  expect(stroke.pressures).toHaveLength(stroke.points!.length / 2);

  // A stroke counts as well where the mask under it is still being drawn: here by workers that do not come.
  await page.route('**/*orker*.js', () => undefined);
  await page.reload();
  await page.getByRole('tab', { name: 'Brush' }).click();
  await pen('mousePressed', 0.3, 0.5);
  await pen('mouseMoved', 0.35, 0.5);
  await pen('mouseReleased', 0.35, 0);
  await expect.poll(async () => (await savedOf(page, server, own)).mask.operations.length).toBe(2);
  await page.unroute('**/*orker*.js');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await savedOf(page, server, own)).mask.operations.length).toBe(1);
  await page.reload();

  await page.getByRole('tab', { name: 'Whole mask' }).click();
  await page.getByRole('button', { name: 'Copy to other frames' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('the same places, as they are here').check();
  await dialog.getByLabel('small.jpg').check();
  await dialog.getByRole('button', { name: 'Copy to 1' }).click();
  await expect(dialog.getByLabel('small.jpg: done')).toBeVisible();
  const [copied] = (await savedOf(page, server, other)).mask.operations;
  expect(copied.sizePx).toBeCloseTo(stroke.sizePx! / 2, 1);
  expect(copied.points![0]).toBeCloseTo(stroke.points![0] / 2, 0);
  expect(copied.pressures).toEqual(stroke.pressures);

  await dialog.getByLabel('find the subject again in each').check();
  await dialog.getByRole('button', { name: 'all' }).click();
  await dialog.getByRole('button', { name: /^Copy to \d/ }).click();
  await expect(dialog.getByLabel('small.jpg: done, as a new mask over the one there')).toBeVisible({ timeout: 60_000 });
  const { mask, masksBelow = [] } = await savedOf(page, server, other);
  expect(mask.operations.map(({ kind }) => kind)).toEqual(['area']);
  expect(masksBelow.map((plan) => plan.mask.operations[0].kind)).toEqual(['stroke']);
});

test('mask: features of a face in, skin out; a part is taken out by pressing on it', async ({ page, server }) => {
  const person = await sharp(PORTRAIT).png().toBuffer();
  await page.goto(server.url);
  await page
    .getByLabel('Files to bring in')
    .setInputFiles([{ name: 'person.png', mimeType: 'image/png', buffer: person }]);
  const own = await openMask(page, /person\.png/);
  const made = async () => (await savedOf(page, server, own)).mask.operations;
  await page.getByRole('tab', { name: 'Faces' }).click();
  await page.getByRole('button', { name: 'Find faces' }).click();
  await page.getByLabel('features in, skin out').check({ timeout: 60_000 });
  // The one face there is is neither small nor doubtful.
  await expect(page.getByRole('group', { name: 'Faces that count' }).getByRole('checkbox')).toHaveCount(1);
  await expect(page.getByText('small or poor')).toHaveCount(0);
  await expect.poll(async () => (await made()).length).toBeGreaterThan(0);
  const before = (await made()).length;

  // By eye on the picture of 512 × 512 px: the middle of the lips lies at (223, 146).
  const picture = (await page
    .getByRole('region', { name: 'The frame and its mask' })
    .locator('canvas')
    .last()
    .boundingBox())!;
  const scale = Math.min(picture.width, picture.height) / 512;
  const place = {
    x: picture.x + picture.width / 2 + (223 - 256) * scale,
    y: picture.y + picture.height / 2 + (146 - 256) * scale,
  };
  await page.mouse.click(place.x, place.y);
  await expect.poll(async () => (await made()).length).not.toBe(before);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await made()).length).toBe(before);
  await page.getByLabel('features in, skin out').uncheck();
  await expect.poll(async () => (await made()).length).toBe(0);
});

test('the picture: tried again where it could not be loaded, whole only from close up', async ({ page, server }) => {
  const wide = await sharp(join(DEMO, 'frames', 'saltmere-0701.jpg'))
    .resize(2600)
    .jpeg()
    .toBuffer();
  await page.goto(server.url);
  await page
    .getByLabel('Files to bring in')
    .setInputFiles([{ name: 'wide.jpg', mimeType: 'image/jpeg', buffer: wide }]);
  await page.getByRole('link', { name: /wide\.jpg/ }).click();
  await page.getByRole('link', { name: /^Mask/ }).click();
  const surface = page.getByRole('region', { name: 'The frame and its mask' });
  const sides: string[] = [];
  await page.route('**/view.jpg?side=6144', (route) => (sides.push('all'), route.abort()));
  await expect(surface.getByText('loading the picture')).toHaveCount(0);
  const closer = surface.getByRole('button', { name: 'Zoom in' });
  expect(sides).toEqual([]);
  for (let i = 0; i < 5; i++) await closer.click();
  await expect(surface.getByText('could not be loaded')).toBeVisible();
  expect(sides).toEqual(['all']);
  await page.unroute('**/view.jpg?side=6144');
  await surface.getByRole('button', { name: 'Try again' }).click();
  await expect(surface.getByText('could not be loaded')).toHaveCount(0);
  await expect(surface.getByText('still being loaded')).toHaveCount(0);
});
