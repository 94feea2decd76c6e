import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ciede2000, planeOf, type Plane } from '../../src';
import { guidedFilter } from '../../src/mask/guidedFilter';
import { grown } from '../../src/mask/morphology';

/** Made by core/golden/makeOutside.py with Debian's scikit-image, scipy and numpy. */
const outside = JSON.parse(readFileSync(new URL('../../golden/outside.json', import.meta.url), 'utf8')) as {
  ciede2000: { pairs: number[][]; values: number[] };
  dilation: { width: number; height: number; mask: number[]; radius: number; grown: number[] };
  guided: {
    width: number;
    height: number;
    guide: number[][];
    wanted: number[];
    reach: number;
    stiffness: number;
    filtered: number[];
  };
};

describe('as independent libraries have it', () => {
  it('CIEDE2000: skimage.color.deltaE_ciede2000 on the 34 published pairs and 60 at random', () => {
    const { pairs, values } = outside.ciede2000;
    expect(pairs).toHaveLength(94);
    pairs.forEach(([l1, a1, b1, l2, a2, b2], i) => {
      // Hues exactly opposite: on the formula's own jump rounding decides; the published value is tested elsewhere.
      if (i < 34 && a1 === -a2 && b1 === -b2) return;
      expect(ciede2000({ l: l1, a: a1, b: b1 }, { l: l2, a: a2, b: b2 })).toBeCloseTo(values[i], 5);
    });
  });

  it('growing a mask: skimage.morphology.dilation by the same disc', () => {
    const { width, height, mask, radius, grown: expected } = outside.dilation;
    const { data } = grown(planeOf(width, height, mask), radius);
    expected.forEach((value, i) => expect(data[i]).toBeCloseTo(value, 6));
  });

  it('the guided filter: written a second time from the paper, on scipy’s means and numpy’s solver', () => {
    const { width, height, guide, wanted, reach, stiffness, filtered } = outside.guided;
    const planes: Plane[] = guide.map((values) => planeOf(width, height, values));
    const { data } = guidedFilter(planeOf(width, height, wanted), planes, reach, stiffness);
    filtered.forEach((value, i) => expect(Math.abs(data[i] - value)).toBeLessThan(2e-4));
  });
});
