import { describe, expect, it } from 'vitest';
import { checkPrescription, discPsf, emptyPrescription, filledPlane, psfOf, seededRandom, type Plane } from '../../src';
import { automaticRecovery } from '../../src';
import { bladedPsf } from '../../src/psf/bladedPsf';
import { fineTexture, fineTextureReach } from '../../src/recover/fineTexture';

const SIDE = 96;
const made = (value: (x: number, y: number) => number): Plane => {
  const plane = filledPlane(SIDE, SIDE, 0);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = value(i % SIDE, Math.floor(i / SIDE));
  return plane;
};
/** Linear light whose square root is the given value. */
const square = (root: number) => root * root;
const quiet = { a: 0, b: 1e-9 };
const spread = ({ data, width }: Plane, left: number, right: number) => {
  let [low, high] = [Infinity, -Infinity];
  for (let y = 20; y < SIDE - 20; y++) {
    for (let x = left; x < right; x++) {
      low = Math.min(low, Math.sqrt(data[y * width + x]));
      high = Math.max(high, Math.sqrt(data[y * width + x]));
    }
  }
  return high - low;
};

describe('fine texture', () => {
  it('strengthens a faint ripple', () => {
    const ripple = made((x) => square(0.5 + 0.02 * Math.sin((2 * Math.PI * x) / 5)));
    const strong = spread(fineTexture(ripple, 4, quiet, 50), 20, SIDE - 20);
    expect(strong / spread(ripple, 20, SIDE - 20)).toBeGreaterThan(1.3);
  });

  it('leaves the height of an edge, without a halo beside it', () => {
    const edge = made((x) => square(x < SIDE / 2 ? 0.3 : 0.7));
    const result = fineTexture(edge, 4, quiet, 50);
    result.data.forEach((value, i) => expect(Math.abs(Math.sqrt(value) - Math.sqrt(edge.data[i]))).toBeLessThan(0.012));
  });

  it('leaves noise alone as far as it is known', () => {
    const random = seededRandom(5);
    const sigma = 0.01;
    const noisy = made(() => square(0.5) + sigma * random.normal());
    const told = fineTexture(noisy, 4, { a: 0, b: sigma * sigma }, 50);
    const untold = fineTexture(noisy, 4, quiet, 50);
    const deviation = ({ data }: Plane) =>
      Math.sqrt(data.reduce((sum, value) => sum + (value - 0.25) ** 2, 0) / data.length);
    expect(deviation(told) / deviation(noisy)).toBeLessThan(1.12);
    expect(deviation(untold) / deviation(noisy)).toBeGreaterThan(1.4);
  });

  it('depends on nothing farther than it says', () => {
    const reach = fineTextureReach(4);
    const plain = made((x, y) => square(0.5 + 0.02 * Math.sin(x * y)));
    const marked = { ...plain, data: plain.data.slice() };
    marked.data[10 * SIDE + 10] = 0.9;
    const [a, b] = [plain, marked].map((plane) => fineTexture(plane, 4, quiet, 50).data);
    for (let y = 0; y < SIDE; y++) {
      for (let x = 0; x < SIDE; x++) {
        if (Math.max(Math.abs(x - 10), Math.abs(y - 10)) > reach) {
          expect(Math.abs(a[y * SIDE + x] - b[y * SIDE + x])).toBeLessThan(1e-4);
        }
      }
    }
  });
});

describe('aperture', () => {
  it('of blades is the polygon, round without, and a prescription keeps it', () => {
    const focus = { method: 'missed-focus', blurSizePx: 9, directionDeg: 0 } as const;
    expect(psfOf({ ...focus, blades: 6, bladesDeg: 20 }).data).toEqual(bladedPsf(4.5, 6, 20).data);
    expect(psfOf(focus).data).toEqual(discPsf(4.5).data);
    const recovery = { ...automaticRecovery('missed-focus', null, 80), trialId: null, blades: 7, bladesDeg: 12 };
    expect(checkPrescription({ ...emptyPrescription(), recovery }).recovery).toMatchObject({
      blades: 7,
      bladesDeg: 12,
    });
    expect(() => checkPrescription({ ...emptyPrescription(), recovery: { ...recovery, blades: 4 } })).toThrow();
  });
});
