import type { Plane } from '../picture/plane';
import { colourError, encodedLuma, halo, inventedDetail, psnr, ssim } from './measures';

/** What a result is worth, held against the truth; all on sRGB-encoded planes 0..1, the border left out. */
export interface Grade {
  /** dB. */
  readonly psnr: number;
  /** dB nearer to the truth than what was photographed. */
  readonly gain: number;
  readonly ssim: number;
  /** Levels of 255 outside of the truth's range nearby. */
  readonly halo: number;
  /** Energy of fine detail that the truth does not explain, of the truth's own. */
  readonly invented: number;
  /** Levels of 255. */
  readonly colour: number;
}

/** @throws RangeError where the three are not of one size. */
export function gradeResult(result: readonly Plane[], truth: readonly Plane[], photographed: readonly Plane[]): Grade {
  const sizes = [result, truth, photographed].map(([{ width, height }]) => `${width} × ${height}`);
  if (new Set(sizes).size > 1) {
    throw new RangeError(`The result has ${sizes[0]} px, the case ${sizes[1]} px; they must be the same.`);
  }
  const own = psnr(result, truth);
  const [luma, trueLuma] = [encodedLuma(result), encodedLuma(truth)];
  return {
    psnr: own,
    gain: own - psnr(photographed, truth),
    ssim: ssim(result, truth),
    halo: halo(luma, trueLuma),
    invented: inventedDetail(luma, trueLuma),
    colour: colourError(result, truth),
  };
}

/** Less is not seen; dB. */
const NOTHING_DB = 0.3;
/** From here a rim is seen beside edges, levels of 255 in the mean. */
const MUCH_HALO = 1.5;
/** From here fine structure is seen that was not there. */
const MUCH_INVENTED = 0.35;

/** A grade in plain words. */
export function gradeSentence({ gain, halo: rim, invented }: Grade): string {
  const first =
    gain > NOTHING_DB
      ? `${gain.toFixed(1)} dB nearer to the truth than what was photographed`
      : gain < -NOTHING_DB
        ? `${(-gain).toFixed(1)} dB farther from the truth than what was photographed: leaving it alone was better`
        : 'as near to the truth as what was photographed';
  const faults = [
    ...(rim > MUCH_HALO ? ['rims stand beside its edges'] : []),
    ...(invented > MUCH_INVENTED ? ['some of its fine detail was never there'] : []),
  ];
  return `${first[0].toUpperCase()}${first.slice(1)}${faults.length > 0 ? `; ${faults.join(', and ')}` : ''}.`;
}
