import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  clippedOver,
  decodePiece,
  expectedLumaVariance,
  filledPlane,
  FINAL_EFFORT,
  findCause,
  localSpectra,
  lumaNoiseLine,
  lumaOf,
  readNoise,
  readShake,
  recover,
  srgbEncode,
  weighCauses,
  wholeOf,
  type Plane,
} from '@vitrocept/core';
import { nodeKernels, pieceOf, readPicture } from '@vitrocept/files';
import { writePicture } from '../caseFiles';
import { psnr } from '@vitrocept/core';
import { moveBack, shiftBetween } from '../registration';
import { drawnCases, makeElsewhere } from './cases';
import { fetchScenes, PARTS, type Part } from './scenes';

/** One cause tried on one case: what it was judged by, and what it truly gained, dB of brightness. */
export interface Candidate {
  readonly name: string;
  readonly method: string;
  readonly signs: readonly number[];
  readonly gain: number;
}

/** Writes every cause that is weighed in a part's cases with its true gain, for bench/fitGain.py. */
export async function candidates(part: string, round: number, file: string): Promise<void> {
  if (!(PARTS as readonly string[]).includes(part)) throw new Error(`There is no part “${part}”: ${PARTS.join(', ')}.`);
  fetchScenes(part as Part);
  const rows: Candidate[] = [];
  for (const wanted of drawnCases(part as Part, round)) {
    const { truth, degraded } = await makeElsewhere(part as Part, wanted);
    rows.push(...(await triedOn(wanted.name, truth, degraded, wanted.chain === 'jpeg')));
    writeFileSync(file, JSON.stringify(rows));
    console.log(wanted.name, rows.length);
  }
}

async function triedOn(name: string, truth: readonly Plane[], degraded: readonly Plane[], isJpeg: boolean) {
  const folder = mkdtempSync(join(tmpdir(), 'vitrocept-candidates-'));
  const path = join(folder, isJpeg ? 'frame.jpg' : 'frame.png');
  await writePicture(degraded, path, isJpeg ? 90 : null);
  const picture = await readPicture(path);
  rmSync(folder, { recursive: true });
  const whole = wholeOf(picture);
  const piece = pieceOf(picture, whole);
  const { lumaWeights } = picture.space;
  const channels = decodePiece(piece, whole, picture.space);
  const clipped = clippedOver(piece, whole);
  const use = filledPlane(whole.width, whole.height, 1);
  const luma = lumaOf(channels, lumaWeights);
  const kernels = await nodeKernels();
  const { noise: finest, grain } = readNoise(channels, use);
  const noise = grain?.noise ?? finest;
  const line = lumaNoiseLine(noise, lumaWeights);
  const variance = expectedLumaVariance(channels, use, noise, lumaWeights);
  const found = findCause(localSpectra(luma, use, clipped), variance, isJpeg || grain !== null);
  const shake = readShake(luma, use, clipped, found.merged, kernels);
  const sharp = encoded(lumaOf(truth, lumaWeights));
  const against = (answer: Plane) => {
    const shown = encoded(answer);
    const shift = shiftBetween([shown, shown, shown], [sharp, sharp, sharp]);
    return psnr([moveBack(shown, shift)], [sharp]);
  };
  const before = against(luma);
  return weighCauses(found, shake, luma, use, clipped, variance, line, kernels).map(({ fit, psf, floor, signs }) => {
    const settings = {
      method: 'camera-shake',
      blurSizePx: 1,
      directionDeg: 0,
      noiseGuard: 50,
      haloLimitPercent: null,
      grainKeptPercent: 0,
      noiseFloor: [Math.max(variance, floor)],
      noise: [line],
    } as const;
    const input = { channels: [luma], lumaWeights: [1], known: use, clipped, originX: 0, originY: 0, psf };
    const [answer] = recover(input, settings, { ...FINAL_EFFORT, kernels }).free;
    return { name, method: fit?.cause ?? 'camera-shake', signs, gain: against(answer) - before };
  });
}

const encoded = (plane: Plane): Plane => ({
  ...plane,
  data: plane.data.map((value) => srgbEncode(Math.min(1, Math.max(0, value)))),
});
