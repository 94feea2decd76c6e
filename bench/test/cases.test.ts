import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { MID_TONE, srgbEncode, type Plane } from '@vitrocept/core';
import { readEncoded, writeGrey, writePicture } from '../src/caseFiles';
import { makeCase, noiseLine, RECIPES, type CaseRecipe } from '../src/cases';
import { DEMO_FRAMES, eyeRegion, gainsOf, numberOf, opened } from '../src/demoFrames';
import { SCENES } from '../src/pictures';

/** Scenes that are cut from demo truths need no package of pictures. */
const OWN = new Set(SCENES.filter(({ file }) => file.startsWith('demo/')).map(({ name }) => name));
const own = (is: (recipe: CaseRecipe) => boolean) => RECIPES.find((one) => OWN.has(one.scene) && is(one))!;

const rms = (a: Plane, b: Plane) =>
  Math.sqrt(a.data.reduce((sum, value, i) => sum + (value - b.data[i]) ** 2, 0) / a.data.length);

describe('practice cases', () => {
  it('are named once each, of known scenes and families', () => {
    expect(new Set(RECIPES.map(({ name }) => name)).size).toBe(RECIPES.length);
    const scenes = new Set(SCENES.map(({ name }) => name));
    for (const { scene, noisePercent, size } of RECIPES) {
      expect(scenes.has(scene), scene).toBe(true);
      expect(noisePercent).toBeGreaterThanOrEqual(0);
      expect(size).toBeGreaterThanOrEqual(0);
    }
    for (const family of ['focus', 'movement', 'shake', 'softness', 'sharp', 'noise'])
      expect(RECIPES.some((recipe) => recipe.family === family)).toBe(true);
  });

  it('come out the same by the same seed, and otherwise by another', async () => {
    const recipe = own(({ family }) => family === 'focus');
    const [one, again, other] = [await makeCase(recipe, 5), await makeCase(recipe, 5), await makeCase(recipe, 6)];
    expect(again.degraded[0].data).toEqual(one.degraded[0].data);
    expect(again.truth[2].data).toEqual(one.truth[2].data);
    expect(rms(one.degraded[0], other.degraded[0])).toBeGreaterThan(0);
    expect(one.truth[0]).toMatchObject({ width: 512, height: 512 });
    expect(one.psf.data.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 5);
  });

  it('blurred they are farther from their truth than their noise alone', async () => {
    const { recipe, truth, degraded } = await makeCase(
      own(({ family, size }) => family === 'focus' && size >= 3),
      3,
    );
    expect(rms(degraded[1], truth[1])).toBeGreaterThan(2 * (recipe.noisePercent / 100));
  });

  it('noise of p % is p % of clipping at the mid-tone, nine tenths of it from photons', () => {
    const { a, b } = noiseLine(2);
    expect(Math.sqrt(a * MID_TONE + b)).toBeCloseTo(0.02, 10);
    expect((a * MID_TONE) / (a * MID_TONE + b)).toBeCloseTo(0.9, 10);
  });
});

describe('files of a case', () => {
  let folder: string;
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'vitrocept-case-'));
  });
  afterAll(() => rm(folder, { recursive: true }));

  const planes = [0, 1, 2].map((c): Plane => ({
    width: 24,
    height: 10,
    data: Float32Array.from({ length: 240 }, (_, i) => ((i * 7 + c * 50) % 240) / 239),
  }));

  it('a picture comes back within half a code of 16 bits', async () => {
    const path = join(folder, 'picture.png');
    await writePicture(planes, path, null);
    const back = await readEncoded(path);
    back.forEach((plane, c) =>
      plane.data.forEach((value, i) => expect(Math.abs(value - srgbEncode(planes[c].data[i]))).toBeLessThan(2e-5)),
    );
  });

  it('a point spread function is written to its brightest sample', async () => {
    const path = join(folder, 'psf.png');
    await writeGrey({ width: 3, height: 1, data: Float32Array.from([0.1, 0.4, 0.2]) }, path);
    const [grey] = await readEncoded(path);
    expect(grey.data[1]).toBeCloseTo(1, 4);
    expect(grey.data[0]).toBeCloseTo(0.25, 3);
  });
});

describe('the table of demo frames', () => {
  it('has twelve frames, each with an eye inside; what is its truth gains without end, itself nothing', async () => {
    expect(DEMO_FRAMES.map(numberOf)).toHaveLength(12);
    const frame = DEMO_FRAMES.find((one) => numberOf(one) === '0801')!;
    const open = await opened(frame);
    const { width, height } = open.picture;
    const eye = eyeRegion(frame);
    expect(eye.x).toBeGreaterThanOrEqual(0);
    expect(eye.x + eye.width).toBeLessThanOrEqual(width);
    expect(eye.y + eye.height).toBeLessThanOrEqual(height);
    const factor = open.picture.bits === 8 ? 257 : 1;
    const itself = Uint16Array.from({ length: width * height * 3 }, (_, i) => open.picture.samples[i] * factor);
    const region = { x: 0, y: 0, width, height };
    const gains = gainsOf(frame, open, { region, channels: 3, codes: itself });
    expect([gains.eye, gains.subject]).toEqual([0, 0]);
    const truthFactor = open.truth.bits === 8 ? 257 : 1;
    const truth = Uint16Array.from({ length: width * height * 3 }, (_, i) => open.truth.samples[i] * truthFactor);
    expect(gainsOf(frame, open, { region, channels: 3, codes: truth }).eye).toBe(Infinity);
  });
});
