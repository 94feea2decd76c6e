import { execFileSync } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { CHALLENGES, truthPng } from '@vitrocept/files';
import { vitroceptIn } from './vitrocept';

const TRUTHS = new URL('../../demo/truth', import.meta.url).pathname;
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'vitrocept-practice-test-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const called = (...args: string[]) => vitroceptIn(folder, 'practice', ...args);
const graded = (...args: string[]) =>
  JSON.parse(called('grade', ...args, '--json').out) as { gain: number; psnr: number; ssim: number; sentence: string };

it('twelve cases are told, one is photographed, and what was made of it is graded', async () => {
  expect(called('list').out.trim().split('\n')).toHaveLength(12);
  expect(called('make', 'near-miss', '--out', '.').out).toMatch(/near-miss\.jpg: 300 mm, f\/5\.6/);
  // The camera takes it the same way ever again; nothing there is written over.
  expect(called('make', 'near-miss', '--out', '.').code).toBe(2);
  const alone = graded('near-miss.jpg', 'near-miss');
  expect(alone.gain).toBe(0);
  const truth = await truthPng(TRUTHS, CHALLENGES[0].frame);
  await writeFile(join(folder, 'truth.png'), truth);
  const best = graded('truth.png', 'near-miss');
  expect(best.ssim).toBeCloseTo(1, 6);
  expect(best.sentence).toMatch(/dB nearer to the truth/);
  await sharp(join(folder, 'near-miss.jpg')).blur(4).png().toFile(join(folder, 'worse.png'));
  expect(graded('worse.png', 'near-miss').sentence).toMatch(/leaving it alone was better/);
});

it('is graded as scikit-image does', async () => {
  const { width, height } = await sharp(join(folder, 'truth.png')).metadata();
  const script = `
import sys, json, numpy as np
from skimage import io
from skimage.metrics import peak_signal_noise_ratio, structural_similarity
a, b = io.imread(sys.argv[1]) / 255.0, io.imread(sys.argv[2]) / 255.0
c = 32
p = peak_signal_noise_ratio(b[c:-c, c:-c], a[c:-c, c:-c], data_range=1)
_, s = structural_similarity(a, b, data_range=1, channel_axis=2, full=True)
print(json.dumps([p, float(s[c:-c, c:-c].mean())]))`;
  const [psnr, ssim] = JSON.parse(
    execFileSync('/usr/bin/python3', ['-c', script, join(folder, 'near-miss.jpg'), join(folder, 'truth.png')], {
      encoding: 'utf8',
    }),
  ) as [number, number];
  expect([width, height]).toEqual([840, 560]);
  const own = graded('near-miss.jpg', 'near-miss');
  expect(own.psnr).toBeCloseTo(psnr, 3);
  expect(own.ssim).toBeCloseTo(ssim, 3);
});

it('says what is wrong with how it was called', () => {
  expect(called('make', 'nowhere', '--out', '.').errors).toMatch(/There is no case “nowhere”: near-miss,/);
  expect(called('grade', 'truth.png').errors).toMatch(/practice takes: list, make CASE/);
});
