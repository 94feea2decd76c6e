import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ciede2000, onGrid, planeOf, type Plane } from '../../src';
import { adaptation, D65 } from '../../src/correct/adaptation';
import { enlargedAxis } from '../../src/correct/enlarge';
import { membrane } from '../../src/finish/membrane';
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
  lanczos: { width: number; height: number; factor: number; plane: number[]; enlarged: number[] };
  laplace: { width: number; height: number; edge: number[]; free: number[]; solved: number[] };
  adaptation: number[];
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

  it('enlarging by Lanczos with three lobes: PIL’s, away from the border, where it cuts the window and ours repeats', () => {
    const { width, height, factor, plane, enlarged } = outside.lanczos;
    const [columns, rows] = [Math.round(width * factor), Math.round(height * factor)];
    const axis = (length: number, count: number) => {
      const slope = length / count;
      return enlargedAxis(length, count, { slope, offset: 0.5 * slope - 0.5 }, false);
    };
    const { data } = onGrid(planeOf(width, height, plane), axis(width, columns), axis(height, rows));
    const rim = Math.ceil(4 * factor);
    let compared = 0;
    for (let y = rim; y < rows - rim; y++) {
      for (let x = rim; x < columns - rim; x++, compared++) {
        expect(Math.abs(data[y * columns + x] - enlarged[y * columns + x])).toBeLessThan(2e-4);
      }
    }
    expect(compared).toBeGreaterThan(3000);
  });

  it('the membrane under a mend: Laplace’s equation by scipy’s direct solver, within half a code of 8 bits', () => {
    const { width, height, edge, free, solved } = outside.laplace;
    const { data } = membrane(planeOf(width, height, edge), free);
    solved.forEach((value, i) => expect(Math.abs(data[i] - value)).toBeLessThan(0.5 / 255));
  });

  it('adaptation from the white of sRGB to that of profiles (ICC.1, D50): Little CMS', () => {
    const [X, Y, Z] = [0.9642, 1, 0.8249];
    const own = adaptation(D65, { x: X / (X + Y + Z), y: Y / (X + Y + Z) });
    outside.adaptation.flat().forEach((value, i) => expect(own[i]).toBeCloseTo(value, 3));
  });
});
