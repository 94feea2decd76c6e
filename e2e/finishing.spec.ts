import { execFileSync } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import sharp from 'sharp';
import { DEMO, expect, ROOT, test } from './server';

interface Saved {
  corrections?: {
    exposureEv: { value: number; auto: boolean };
    whiteBalance: { kind: string };
    curve: { x: number; y: number }[];
    blackPercent: { value: number };
  };
  geometry: { crop: { width: number; height: number } | null; straightenDeg?: number; enlarge?: number } | null;
  mends?: { dx: number; dy: number; stroke: { points: number[] } }[];
  finishing?: {
    vignette: { cornerPercent: number };
    localChanges: { exposureEv: number; mask: { name: string; operations: { kind: string }[] } }[];
  };
}

/** What an independent reader finds in a TIFF: its size, depth, and means of a middle and a corner. */
const READ = `
import json, sys, tifffile
a = tifffile.imread(sys.argv[1]).astype(float)
h, w = a.shape[:2]
mean = lambda p: float(p.mean())
print(json.dumps({"width": w, "height": h, "bits": tifffile.TiffFile(sys.argv[1]).pages[0].bitspersample,
  "middle": mean(a[h*2//5:h*3//5, w*2//5:w*3//5]), "corner": mean(a[:h//16, :w//16])}))
`;

test('corrections and finishing: light, colour, curve, crop, a line, local changes, a mend, a vignette, a 16-bit TIFF', async ({
  page,
  server,
}) => {
  const small = await sharp(join(DEMO, 'frames', 'saltmere-0413.jpg'))
    .resize(600)
    .png()
    .toBuffer();
  await page.goto(server.url);
  await page
    .getByLabel('Files to bring in')
    .setInputFiles([{ name: 'small-marten.png', mimeType: 'image/png', buffer: small }]);
  await page.getByRole('link', { name: /small-marten\.png/ }).click();
  await page.getByRole('link', { name: /^Corrections/ }).click();
  const saved = async () => {
    await expect(page.getByRole('status').filter({ hasText: 'saved' })).toBeVisible();
    const id = /frames\/([^/]+)/.exec(page.url())![1];
    const answer = await page.request.get(`${server.url}/api/frames/${id}`);
    return ((await answer.json()) as { saved: { prescription: Saved } }).saved.prescription;
  };
  const surface = page.getByRole('region', { name: 'The frame with its corrections' });
  await expect(surface.getByText('loading the picture')).toHaveCount(0);

  // Light by number, and taken back by one press.
  await page.getByLabel('Exposure, number').fill('0.5');
  await page.keyboard.press('Enter');
  expect((await saved()).corrections!.exposureEv).toEqual({ value: 0.5, auto: false });
  await page.getByRole('button', { name: 'All Automatic' }).click();
  await expect.poll(async () => (await saved()).corrections?.blackPercent.value ?? 0).toBeGreaterThan(0);
  await page.keyboard.press('Control+z');
  expect((await saved()).corrections!.exposureEv.value).toBe(0.5);

  // Colour from a place that is grey.
  await page.getByRole('tab', { name: 'Wrong colour' }).click();
  await page.getByRole('button', { name: 'Pick a grey place' }).click();
  const box = (await surface.boundingBox())!;
  await page.mouse.click(box.x + box.width * 0.45, box.y + box.height * 0.68);
  await expect.poll(async () => (await saved()).corrections?.whiteBalance.kind).toBe('picked');

  // The lens, as far as the picture tells.
  await page.getByRole('tab', { name: 'Lens' }).click();
  await page.getByRole('button', { name: 'Measure the lens' }).click();
  await expect(page.getByText(/[Ff]all-off .*(fringes|Fringes)/)).toBeVisible();

  // The curve by keyboard: the black end up a little.
  await page.getByRole('tab', { name: 'Contrast' }).click();
  const end = page.getByRole('slider', { name: 'Point 1 of the tone curve' });
  await end.focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect.poll(async () => (await saved()).corrections?.curve[0]?.y).toBeCloseTo(0.05, 6);
  await page.getByRole('button', { name: 'To the edge of clipping' }).click();
  await expect(page.getByLabel('hatch what clips')).toBeChecked();

  // Framed: a ratio, then straightened by a drawn line.
  await page.getByRole('link', { name: /^Finishing/ }).click();
  await page.getByLabel('Crop', { exact: true }).selectOption('1 : 1');
  await page.getByRole('button', { name: 'Straighten by a line' }).click();
  const frame = (await page.getByRole('region', { name: 'The frame and its crop' }).boundingBox())!;
  const at = (x: number, y: number) => [frame.x + x * frame.width, frame.y + y * frame.height] as const;
  await page.mouse.move(...at(0.3, 0.5));
  await page.mouse.down();
  await page.mouse.move(...at(0.7, 0.53), { steps: 6 });
  await page.mouse.up();
  await expect.poll(async () => Math.round(10 * ((await saved()).geometry?.straightenDeg ?? 0))).not.toBe(0);
  const { crop } = (await saved()).geometry!;
  expect(Math.abs(crop!.width / crop!.height - 1)).toBeLessThan(0.02);
  await page.getByLabel('Enlarge, number').fill('1.5');
  await page.keyboard.press('Enter');

  // The eye guided: an oval, and all around it darker; its mask by the mask's own tools.
  await page.getByRole('tab', { name: 'Guide the eye' }).click();
  await page.getByRole('button', { name: 'New oval' }).click();
  await page.getByLabel('Exposure, number').fill('0.8');
  await page.keyboard.press('Enter');
  await page.getByLabel('New change under the opposite of a mask').selectOption('oval 1');
  await page.getByLabel('Exposure, number').fill('-0.6');
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: 'Change where' }).click();
  await page.getByRole('tab', { name: 'Whole mask' }).click();
  await page.getByRole('button', { name: 'Invert', exact: true }).click();
  await expect.poll(async () => (await saved()).finishing!.localChanges[1].mask.operations.length).toBe(3);
  await page.keyboard.press('Control+z');
  await page.getByRole('link', { name: 'back to Finishing' }).click();
  expect((await saved()).finishing!.localChanges.map(({ mask }) => mask.name)).toEqual(['oval 1', 'all but oval 1']);

  // A place mended, its source moved by its ring.
  await page.getByRole('tab', { name: 'Mend' }).click();
  const whole = page.getByRole('region', { name: 'The frame and what is mended' });
  await expect(whole.getByText('loading the picture')).toHaveCount(0);
  const b = (await whole.boundingBox())!;
  await page.mouse.click(b.x + b.width * 0.4, b.y + b.height * 0.6);
  await expect(page.getByRole('button', { name: 'spot 1' })).toBeVisible();
  await page.getByRole('tab', { name: 'Whole picture' }).click();
  await page.getByLabel('At the corner, number').fill('-60');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('img', { name: 'The finished picture' }).locator('canvas')).toBeVisible();
  await page.getByRole('button', { name: '100 %' }).click();
  const close = page.getByRole('group', { name: 'The finished picture at 100 %' });
  await expect(close.getByRole('status')).toHaveText(/^from \d+, \d+$/);
  await close.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(close.getByRole('status')).toHaveText(/^from \d+, \d+$/);
  const all = await saved();
  expect(all.mends).toHaveLength(1);
  expect(all.finishing!.vignette.cornerPercent).toBe(-60);

  // All of it is in the copy.
  await page
    .getByRole('link', { name: /^Hand over/ })
    .first()
    .click();
  const done = page.getByRole('region', { name: 'What will be done' });
  await expect(done.getByText(/Exposure \+0\.50 EV/)).toBeVisible();
  await expect(done.getByText(/local changes: oval 1, all but oval 1, vignette −60 %/)).toBeVisible();
  await page.getByRole('button', { name: 'Render and save a copy' }).click();
  const render = page.getByRole('article');
  await expect(render).toHaveAttribute('data-state', 'done');
  const download = page.waitForEvent('download');
  await render.getByRole('link', { name: 'Download' }).click();
  const copy = await (await download).path();
  const found = JSON.parse(execFileSync('/usr/bin/python3', ['-c', READ, copy], { encoding: 'utf8' })) as {
    width: number;
    height: number;
    bits: number;
    middle: number;
    corner: number;
  };
  expect(found.bits).toBe(16);
  expect([found.width, found.height]).toEqual([Math.round(crop!.width * 1.5), Math.round(crop!.height * 1.5)]);
  expect(found.middle).toBeGreaterThan(1.5 * found.corner);

  // With its prescription the original gives the copy again, to the bit.
  const plan = page.waitForEvent('download');
  await render.getByRole('link', { name: 'prescription' }).click();
  const prescription = await (await plan).path();
  const original = join(dirname(copy), 'original.png');
  await writeFile(original, small);
  const said = execFileSync(process.execPath, [
    join(ROOT, 'dist/node/cli.js'),
    'prove',
    copy,
    original,
    '--prescription',
    prescription,
  ]);
  expect(String(said)).toMatch(/^Yes: every sample/);
});
