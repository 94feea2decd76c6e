import { describe, expect, it } from 'vitest';
import { blurred, discPsf, exposed, filledPlane, linePsf, PLAIN_KERNELS, seededRandom } from '../../src';
import { expectedGain, signsOf } from '../../src/read/expectedGain';
import { photographAgain } from '../../src/read/photographedAgain';
import { deadLeaves } from '../synthetic';

const SIDE = 160;
const line = { a: 1e-5, b: 4e-6 };
const scene = deadLeaves(SIDE + 32, SIDE + 32, 81, 2);
const luma = exposed(blurred([scene], discPsf(3), 16), [line], seededRandom(5))[0];
const place = { luma, use: filledPlane(SIDE, SIDE, 1), clipped: new Uint8Array(SIDE * SIDE) };
const of = (psf: ReturnType<typeof discPsf>) => photographAgain([place], psf, 2e-5, line, PLAIN_KERNELS);

describe('a blur taken back and photographed again', () => {
  const right = of(discPsf(3));
  it('leaves little where it is right', () => {
    expect(right.restAtEdges).toBeLessThan(3);
    expect(right.beyondLight).toBeLessThan(0.01);
    expect(right.sparsity).toBeLessThan(0.95);
  });

  it('drives light below black and leaves a rest at edges where it is far too wide', () => {
    const wide = of(discPsf(8));
    expect(wide.beyondLight).toBeGreaterThan(5 * right.beyondLight + 0.01);
    expect(wide.restAtEdges).toBeGreaterThan(2 * right.restAtEdges);
  });

  it('changes next to nothing where it is next to nothing', () => {
    const none = of(discPsf(0));
    expect(none.change).toBeLessThan(0.2 * right.change);
  });

  it('looks only where samples are used and no light was clipped near', () => {
    const half = { ...place.use, data: place.use.data.map((_, i) => (i % SIDE < 80 ? 1 : 0)) };
    const broken = { ...luma, data: luma.data.map((value, i) => (i % SIDE < 80 ? value : 5)) };
    const seen = photographAgain([{ ...place, luma: broken, use: half }], linePsf(5, 0), 2e-5, line, PLAIN_KERNELS);
    expect(Number.isFinite(seen.restAtEdges)).toBe(true);
    expect(seen.restAtEdges).toBeLessThan(20);
  });
});

describe('the gain that is expected', () => {
  const says = {
    overLeast: 1,
    overNone: 0.3,
    noneCost: 0.2,
    halfSizeEdges: 0.97,
    fullSizeEdges: 0.97,
    disagreement: 0,
    isPath: false,
    sizePx: 6,
  };
  const again = {
    restAtEdges: 0.9,
    restInCalm: 0.9,
    restLikeness: 0,
    beyondLight: 0,
    change: 2,
    sparsity: 0.75,
  };
  it('is much of what explains the spectrum and harms nothing, a loss of what drives light below black', () => {
    expect(expectedGain(signsOf(again, says))).toBeGreaterThan(1);
    const harmful = { ...again, beyondLight: 0.3, restAtEdges: 6, restLikeness: 0.6 };
    expect(
      expectedGain(signsOf(harmful, { ...says, overNone: 1, halfSizeEdges: 1.1, fullSizeEdges: 1.3 })),
    ).toBeLessThan(-3);
  });
});
