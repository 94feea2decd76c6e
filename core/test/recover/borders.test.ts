import { describe, expect, it } from 'vitest';
import { cropPlane, filledPlane, FINAL_EFFORT, linePsf, PLAIN_KERNELS, recover, type Plane } from '../../src';
import { convolve, deadLeaves, withNoise } from '../synthetic';

const SIDE = 180;
const inside = { x: 36, y: 36, width: 108, height: 108 };
/** Left out along every edge of what was recovered: there the photograph lacks the light from beyond. */
const RIM = 20;

/** √ of the mean squared difference of two planes as large as `inside`, without the rim. */
function apart(a: Plane, b: Plane): number {
  let [sum, count] = [0, 0];
  for (let y = RIM; y < a.height - RIM; y++) {
    for (let x = RIM; x < a.width - RIM; x++, count++) sum += (a.data[y * a.width + x] - b.data[y * a.width + x]) ** 2;
  }
  return Math.sqrt(sum / count);
}

describe('borders of a recovered piece', () => {
  // 108 is a length the transform likes as it is: nothing separates the piece's ends but the gap made for them.
  it.each([0, 90])(
    'the light beyond one end is not taken for the light beyond the other (movement at %i°)',
    (degrees) => {
      const scene = deadLeaves(SIDE, SIDE, 5);
      const psf = linePsf(19, degrees);
      const photograph = withNoise(convolve(scene, psf), 0.001, 3);
      const piece = cropPlane(photograph, inside);
      const settings = {
        method: 'straight-movement',
        blurSizePx: 19,
        directionDeg: degrees,
        noise: [{ a: 0, b: 1e-6 }],
        noiseFloor: [1e-6],
        noiseGuard: 50,
        haloLimitPercent: null,
        grainKeptPercent: 0,
      } as const;
      const input = {
        channels: [piece],
        lumaWeights: [1],
        known: filledPlane(piece.width, piece.height, 1),
        clipped: new Uint8Array(piece.data.length),
        originX: 0,
        originY: 0,
      };
      const [answer] = recover(input, settings, { ...FINAL_EFFORT, kernels: PLAIN_KERNELS }).answer;
      const truth = cropPlane(scene, inside);
      expect(apart(answer, truth)).toBeLessThan(0.55 * apart(piece, truth));
    },
  );
});
