import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { run } from '@vitrocept/cli';
import { readEncoded, writeGrey, writePicture } from '../caseFiles';
import { psnr, ssim, type Plane, type Size } from '@vitrocept/core';
import { moveBack, shiftBetween } from '../registration';
import { casesOf, makeElsewhere, trueCauseOf, type TrueCause } from './cases';
import type { Part } from './scenes';

/** What came of one case. dB and SSIM against the truth, the answer moved to where the truth lies. */
export interface Verdict {
  readonly name: string;
  readonly cause: TrueCause;
  readonly blur: string;
  readonly noisePercent: number;
  readonly said: string;
  readonly saidSizePx: number;
  readonly confidence: number;
  readonly input: readonly [psnr: number, ssim: number];
  readonly blind: readonly [psnr: number, ssim: number];
  /** Null unless asked for. */
  readonly told: readonly [psnr: number, ssim: number] | null;
  readonly cpuSeconds: number;
}

/**
 * Every `of`-th case of a part from `share` on: recovered through the command line, nothing told; `masked`: read over the
 * ellipse in the middle alone, and not recovered.
 */
export async function judgeShare(
  part: Part,
  wish: { share: number; of: number; only: RegExp | null; told: boolean; masked: boolean; round: number },
  found: (verdict: Verdict) => void,
): Promise<void> {
  const { share, of, only, told, masked, round } = wish;
  const folder = mkdtempSync(join(tmpdir(), 'vitrocept-elsewhere-'));
  const cases = casesOf(part, round).filter(({ name }) => !only || only.test(name));
  for (const [i, wanted] of cases.entries()) {
    if (i % of !== share) continue;
    const { truth, degraded, psf } = await makeElsewhere(part, wanted);
    const place = join(folder, String(i));
    mkdirSync(place);
    const isJpeg = wanted.chain === 'jpeg';
    const input = join(place, isJpeg ? 'frame.jpg' : 'frame.png');
    await writePicture(degraded, input, isJpeg ? 90 : null);
    await writePicture(truth, join(place, 'truth.png'), null);
    await writeGrey(psf, join(place, 'psf.png'));
    const before = process.cpuUsage();
    let printed = '';
    const mask = join(place, 'mask.png');
    if (masked) await writeGrey(inTheMiddle(truth[0]), mask);
    const over = masked ? ['--mask', mask] : [];
    await run(['read', input, ...over, '--json'], (text: string) => (printed += text));
    if (!masked) await run(['render', input, '--out', join(place, 'blind')]);
    const { user, system } = process.cpuUsage(before);
    if (told) await run(['render', input, '--out', join(place, 'told'), '--psf', join(place, 'psf.png')]);
    const sharp = await readEncoded(join(place, 'truth.png'));
    const judged = async (file: string): Promise<[number, number]> => {
      const result = await readEncoded(file);
      const shift = shiftBetween(result, sharp);
      const moved = result.map((plane) => moveBack(plane, shift));
      return [psnr(moved, sharp), ssim(moved, sharp)];
    };
    const given = await judged(input);
    // An area that is too bright has no reading.
    const [row] = JSON.parse(printed) as Partial<{ method: string; blurSizePx: number; confidence: number }>[];
    found({
      name: wanted.name,
      cause: trueCauseOf(wanted),
      blur: wanted.blur.kind,
      noisePercent: wanted.noisePercent,
      said: row.method ?? 'not measured',
      saidSizePx: row.blurSizePx ?? 0,
      confidence: row.confidence ?? 0,
      input: given,
      blind: masked ? given : await judged(join(place, 'blind', 'frame.png')),
      told: told ? await judged(join(place, 'told', 'frame.png')) : null,
      cpuSeconds: (user + system) / 1e6,
    });
    rmSync(place, { recursive: true });
  }
  rmSync(folder, { recursive: true });
}

/** 1 in an ellipse that takes up a quarter of the frame. */
function inTheMiddle({ width, height }: Size): Plane {
  const data = new Float32Array(width * height);
  const reach = 2 * Math.sqrt(Math.PI);
  for (let i = 0; i < data.length; i++) {
    const [x, y] = [(i % width) / width - 0.5, Math.floor(i / width) / height - 0.5];
    if (Math.hypot(x, y) < 1 / reach) data[i] = 1;
  }
  return { width, height, data };
}
