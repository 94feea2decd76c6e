import { execFileSync } from 'node:child_process';
import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, ROOT, test } from './server';

test('raw: a DNG in, its first look at once, recovered, a TIFF, a DNG and a proof sheet out', async ({
  page,
  server,
}) => {
  const folder = await mkdtemp(join(tmpdir(), 'vitrocept-raw-'));
  execFileSync('node', ['dist/node/cli.js', 'practice', 'make', 'far-behind', '--out', folder, '--mosaic'], {
    cwd: ROOT,
  });
  const file = join(folder, 'far-behind.dng');
  // What comes of a file so small is there before anybody could look.
  await page.route('**/frames', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 1500));
    await route.continue();
  });
  await page.goto(server.url);
  await page.getByLabel('Files to bring in').setInputFiles([file]);
  await expect(page.getByRole('img', { name: 'far-behind.dng, as its camera showed it' })).toBeVisible();
  await page.getByRole('link', { name: /far-behind\.dng/ }).click();
  const id = /frames\/([^/]+)/.exec(page.url())![1];
  await page.goto(`${server.url}/frames/${id}/trials`);
  await page.getByRole('button', { name: /^Choose A/ }).click();

  await page.getByRole('link', { name: /^Hand over/ }).click();
  const copy = page.getByRole('region', { name: 'The copy' });
  await expect(copy.getByLabel('Colour space')).toHaveValue('romm');
  await expect(page.getByRole('img', { name: /^copy at/ })).toBeVisible();
  await copy.getByLabel('Name', { exact: true }).fill('{frame}-{prescription}-{counter}');
  await expect(copy.getByText(/^far-behind-.*-001\.tiff$/)).toBeVisible();
  await page.getByRole('button', { name: 'Render and save a copy' }).click();
  const done = page.locator('[data-state=done]');
  await expect(done).toHaveCount(1);

  await page.getByText('DNG, linear').click();
  await expect(copy.getByLabel('Colour space')).toBeDisabled();
  await copy.getByLabel('Name', { exact: true }).fill('{nobody}');
  await expect(copy.getByRole('alert')).toContainText('is not known');
  await expect(page.getByRole('button', { name: 'Render and save a copy' })).toBeDisabled();
  await copy.getByLabel('Name', { exact: true }).fill('{frame}-{stage}');
  await page.getByRole('button', { name: 'Render and save a copy' }).click();
  await expect(done).toHaveCount(2);

  // Both hold what the page's prescription makes of the original, to the bit; the sheet says whose they are.
  const jobs = (await (await page.request.get(`${server.url}/api/renders`)).json()) as {
    id: string;
    fileName: string;
  }[];
  for (const { id: render, fileName } of jobs) {
    const [own, prescription] = [join(folder, fileName), join(folder, `${fileName}.json`)];
    for (const [place, what] of [
      [own, 'file'],
      [prescription, 'prescription.json'],
    ] as const) {
      const answer = await page.request.get(`${server.url}/api/renders/${render}/${what}`);
      await writeFile(place, await answer.body());
    }
    const said = execFileSync('node', ['dist/node/cli.js', 'prove', own, file, '--prescription', prescription], {
      cwd: ROOT,
      encoding: 'utf8',
    });
    expect(said).toMatch(/^Yes: every sample/);
    const sheet = join(folder, `${fileName}.pdf`);
    await writeFile(sheet, await (await page.request.get(`${server.url}/api/renders/${render}/proof.pdf`)).body());
    expect(execFileSync('pdftotext', [sheet, '-'], { encoding: 'utf8' })).toContain(fileName);
  }
  expect(jobs.map(({ fileName }) => fileName.split('.').at(-1)).sort()).toEqual(['dng', 'tiff']);
  const dng = await readFile(join(folder, jobs.find(({ fileName }) => fileName.endsWith('.dng'))!.fileName));
  expect(
    execFileSync('exiftool', ['-UniqueCameraModel', '-Software', '-s3', '-'], { input: dng, encoding: 'utf8' }),
  ).toBe('Quorvane K2\nVitrocept\n');
});
