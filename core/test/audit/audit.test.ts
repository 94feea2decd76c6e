import { describe, expect, it } from 'vitest';
import {
  auditPlanes,
  BlurOver,
  blurred,
  ciede2000,
  discPsf,
  exposed,
  figuresOver,
  filledPlane,
  gaussianPsf,
  inner,
  labOf,
  levelOf,
  noiseVariances,
  LIMITS,
  PLAIN_KERNELS,
  psfBetween,
  seededRandom,
  toOpponent,
  srgbDecode,
  verdictOf,
  type AuditInput,
  type Figures,
  type Plane,
  type Psf,
} from '../../src';
import { CIEDE2000_PAIRS } from '../../tables/ciede2000';
import { deadLeaves } from '../synthetic';

const WEIGHTS = [0.2126, 0.7152, 0.0722];
const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const SIDE = 160;
const MARGIN = 24;
const INNER = { x: MARGIN, y: MARGIN, width: SIDE - 2 * MARGIN, height: SIDE - 2 * MARGIN };

function inputOf(
  original: Plane[],
  shown: Plane[],
  psf: Psf,
  variance: number,
  more: Partial<AuditInput> = {},
): AuditInput {
  const { width, height } = original[0];
  const everywhere = filledPlane(width, height, 1);
  return {
    original,
    components: toOpponent(original),
    shown,
    full: null,
    cautious: null,
    solved: null,
    blur: [{ psf, share: null }],
    blurPx: 3,
    signal: 2e-5,
    noise: original.map(() => ({ a: 0, b: variance })),
    noiseFloor: original.map(() => variance),
    clipped: new Uint8Array(width * height),
    bits: 16,
    alpha: everywhere,
    believed: everywhere,
    masked: everywhere,
    inFrame: everywhere,
    lumaWeights: original.length === 1 ? [1] : WEIGHTS,
    toLinearSrgb: original.length === 1 ? null : IDENTITY,
    isClipped: false,
    ...more,
  };
}

const figuresOf = (input: AuditInput): Figures => {
  const audit = auditPlanes(input, INNER, { ...INNER, x: 0, y: 0 }, PLAIN_KERNELS);
  return figuresOver([audit], { ...INNER, x: 0, y: 0 });
};

const drawn = (value: (x: number, y: number) => number): Plane => ({
  width: SIDE,
  height: SIDE,
  data: Float32Array.from({ length: SIDE * SIDE }, (_, i) => value(i % SIDE, Math.floor(i / SIDE))),
});

const grain = (level: number, sigma: number, seed: number) => {
  const random = seededRandom(seed);
  return drawn(() => level + sigma * random.normal());
};

describe('colour difference', () => {
  it('CIEDE2000 gives the 34 published values (Sharma, Wu, Dalal 2005)', () => {
    for (const [l1, a1, b1, l2, a2, b2, expected] of CIEDE2000_PAIRS) {
      expect(ciede2000({ l: l1, a: a1, b: b1 }, { l: l2, a: a2, b: b2 })).toBeCloseTo(expected, 4);
    }
  });

  it('L*a*b* of white, black and mid grey', () => {
    expect(labOf(1, 1, 1).l).toBeCloseTo(100, 6);
    expect(labOf(1, 1, 1).a).toBeCloseTo(0, 6);
    expect(labOf(0, 0, 0).l).toBeCloseTo(0, 6);
    // CIE 15: L* = 116·∛Y − 16, so 18 % grey is L* 49.496, and L* 50 has Y 0.18419.
    expect(labOf(0.18, 0.18, 0.18).l).toBeCloseTo(49.496, 2);
    expect(labOf(0.18419, 0.18419, 0.18419).l).toBeCloseTo(50, 2);
  });
});

describe('halo and ringing', () => {
  /** Encoded step from 0.3 to 0.6, softened, and its recovery: sharp, with a lobe of `over` of the step 3 px wide. */
  const steps = (over: number, waves = 0) => {
    const edge = (x: number) => x - SIDE / 2 + 0.2;
    const soft = drawn((x) => srgbDecode(0.3 + 0.3 / (1 + Math.exp(-edge(x) / 1.2))));
    const crisp = drawn((x) => {
      const t = edge(x);
      const base = 0.3 + 0.3 / (1 + Math.exp(-t / 0.25));
      const lobe = t > 0 ? over * Math.exp(-(((t - 2) / 1.3) ** 2)) : 0;
      const wave = t > 4.5 && t < 8 ? waves * Math.sin((t - 4.5) * Math.PI) : 0;
      return srgbDecode(base + 0.3 * (lobe + wave));
    });
    return figuresOf(inputOf([soft], [crisp], gaussianPsf(1.3), 1e-7));
  };

  it.each([0, 4, 12, 25])('an overshoot of %i %% of the step reads as that within 1 %%', (percent) => {
    const { halo } = steps(percent / 100);
    expect(Math.abs(halo.value - percent)).toBeLessThan(1);
    expect(halo.verdict).toBe(verdictOf(percent, LIMITS.halo));
  });

  it('stripes beyond the first lobe are ringing, an overshoot alone is not', () => {
    expect(steps(0.12).ringing.verdict).toBe('safe');
    expect(Math.abs(steps(0.04, 0.08).ringing.value - 8)).toBeLessThan(2);
  });

  it('edges become narrower as they did', () => {
    const { gain } = steps(0);
    // 10–90 % of a logistic of scale s is 4.394 s.
    expect(gain!.before).toBeCloseTo(4.394 * 1.2, 0);
    expect(gain!.after).toBeLessThan(2);
  });

  it('says nothing where there is no edge', () => {
    const flat = grain(0.2, 1e-3, 1);
    expect(figuresOf(inputOf([flat], [flat], gaussianPsf(1), 1e-6)).halo.verdict).toBe('not measurable');
  });
});

describe('grain rise', () => {
  it.each([1, 1.5, 2.5])('grain made %f times as strong reads as that', (gain) => {
    const before = grain(0.2, 0.012, 2);
    const after = { ...before, data: before.data.map((value) => 0.2 + gain * (value - 0.2)) };
    const { grain: figure } = figuresOf(inputOf([before], [after], gaussianPsf(1), 0.012 ** 2));
    expect(figure.value).toBeGreaterThan(0.95 * gain);
    expect(figure.value).toBeLessThan(1.05 * gain);
  });

  it('is not seen below one 8-bit level', () => {
    const before = grain(0.5, 2e-4, 3);
    const after = { ...before, data: before.data.map((value) => 0.5 + 3 * (value - 0.5)) };
    expect(figuresOf(inputOf([before], [after], gaussianPsf(1), 4e-8)).grain.verdict).toBe('safe');
  });
});

describe('colour drift', () => {
  const coloured = (r: number, g: number, b: number) => [r, g, b].map((value) => filledPlane(SIDE, SIDE, value));

  it('a hue turn of known ΔE00 reads as that', () => {
    const [before, after] = [coloured(0.2, 0.15, 0.1), coloured(0.2, 0.16, 0.08)];
    const known = ciede2000(labOf(0.2, 0.15, 0.1), labOf(0.2, 0.16, 0.08));
    const { colour } = figuresOf(inputOf(before, after, gaussianPsf(1), 1e-8));
    expect(Math.abs(colour.value - known)).toBeLessThan(0.06);
    expect(colour.verdict).toBe('damaged');
  });

  it('detail brought back is not drift', () => {
    const truth = [0.2, 0.3, 0.4].map((share, c) => {
      const [leaves, own] = [5, 6 + c].map((seed) => deadLeaves(SIDE + 2 * 8, SIDE + 2 * 8, seed, 2).data);
      const data = leaves.map((value, i) => share * (0.8 * value + 0.2 * own[i]));
      return { width: SIDE + 16, height: SIDE + 16, data };
    });
    const soft = blurred(truth, discPsf(2), 8);
    const sharp = truth.map((plane) => inner(plane, 8));
    expect(figuresOf(inputOf(soft, sharp, discPsf(2), 1e-8, { blurPx: 4 })).colour.verdict).toBe('safe');
  });
});

describe('unproven detail', () => {
  const psf = discPsf(2.5);
  const sigma = 0.004;
  const made = () => {
    const scene = [1, 0.8, 0.6].map((share) => {
      const leaves = deadLeaves(SIDE + 16, SIDE + 16, 9, 2);
      return { ...leaves, data: leaves.data.map((value) => share * value) };
    });
    const truth = scene.map((plane) => inner(plane, 8));
    const line = { a: 0, b: sigma ** 2 };
    const photograph = exposed(blurred(scene, psf, 8), [line, line, line], seededRandom(4));
    return { truth, photograph };
  };
  const brightnessOf = ([r, g, b]: Plane[]): Plane => ({
    ...r,
    data: r.data.map((value, i) => (value + g.data[i] + b.data[i]) / Math.sqrt(3)),
  });
  const against = (photograph: Plane[], full: Plane[], cautious: Plane[]) =>
    figuresOf(inputOf(photograph, full, psf, sigma ** 2, { full, cautious: () => brightnessOf(cautious), blurPx: 5 }))
      .unproven;

  it('the true scene is contradicted by noise alone: below every limit', () => {
    const { truth, photograph } = made();
    const found = against(photograph, truth, truth);
    expect(found.verdict).toBe('safe');
    expect(found.value).toBeGreaterThan(0.3);
  });

  it('the true scene’s plain contradiction, its difference over the noise alone, is 1.00 ± 0.03', () => {
    const { truth, photograph } = made();
    const [again] = new BlurOver([{ psf, share: null }], PLAIN_KERNELS).blur([brightnessOf(truth)]);
    const seen = brightnessOf(photograph);
    let [sum, count] = [0, 0];
    for (let y = MARGIN; y < SIDE - MARGIN; y++) {
      for (let x = MARGIN; x < SIDE - MARGIN; x++) {
        const i = y * SIDE + x;
        sum += (again.data[i] - seen.data[i]) ** 2 / sigma ** 2;
        count++;
      }
    }
    expect(Math.abs(Math.sqrt(sum / count) - 1)).toBeLessThan(0.03);
  });

  it('noise is never taken for less than its line says', () => {
    const { photograph } = made();
    const { data } = noiseVariances(inputOf(photograph, photograph, psf, sigma ** 2))[0];
    expect(data.every((value) => value >= 0.999 * sigma ** 2 && value <= 7 * sigma ** 2)).toBe(true);
  });

  it('a bright spot that the photograph does not show is found, in its place', () => {
    const { truth, photograph } = made();
    const forged = truth.map((plane) => ({ ...plane, data: plane.data.slice() }));
    for (const plane of forged) {
      for (let y = 78; y <= 81; y++) for (let x = 90; x <= 93; x++) plane.data[y * SIDE + x] += 0.3;
    }
    const found = against(photograph, forged, truth);
    expect(found.verdict).toBe('damaged');
    expect(Math.hypot(found.at!.x + MARGIN - 91.5, found.at!.y + MARGIN - 79.5)).toBeLessThan(4);
  });

  it('a turned hue is found as hue', () => {
    const { truth, photograph } = made();
    const forged = [truth[2], truth[1], truth[0]].map((plane, c) => ({
      ...plane,
      data: plane.data.map((value, i) =>
        Math.hypot((i % SIDE) - 80, Math.floor(i / SIDE) - 80) < 8 ? value : truth[c].data[i],
      ),
    }));
    const found = against(photograph, forged, truth);
    expect(found.kind).toBe('hue');
    expect(found.verdict).toBe('damaged');
  });

  it('texture finer than the photograph can show is unsupported: it is not contradicted, and nothing vouches for it', () => {
    const { truth, photograph } = made();
    // A chequerboard: at half a cycle per px both ways the disc lets nothing through.
    const forged = truth.map((plane) => ({
      ...plane,
      data: plane.data.map((value, i) => {
        const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
        return value + 0.2 * Math.exp(-(((x - 80) ** 2 + (y - 80) ** 2) / 80)) * ((x + y) % 2 === 0 ? 1 : -1);
      }),
    }));
    const found = against(photograph, forged, truth);
    expect(found.kind).toBe('unsupported');
    expect(found.verdict).not.toBe('safe');
    expect(Math.hypot(found.at!.x + MARGIN - 80, found.at!.y + MARGIN - 80)).toBeLessThan(18);
  });

  it('without a blur model nothing is said', () => {
    const { truth, photograph } = made();
    expect(figuresOf(inputOf(photograph, truth, psf, sigma ** 2)).unproven.verdict).toBe('not measurable');
  });
});

describe('the original against itself', () => {
  it('is safe wherever something can be measured', () => {
    const scene = deadLeaves(SIDE, SIDE, 12, 3);
    const figures = figuresOf(inputOf([scene], [scene], gaussianPsf(1), 1e-6));
    for (const { verdict } of [figures.halo, figures.ringing, figures.colour, figures.grain]) {
      expect(['safe', 'not measurable']).toContain(verdict);
    }
    expect(figures.gain?.before).toBe(figures.gain?.after);
  });
});

describe('the blur between two versions', () => {
  it('finds the Gaussian that turns a sharp picture into a soft one', () => {
    const scene = [deadLeaves(SIDE + 16, SIDE + 16, 21, 2)];
    const truth = gaussianPsf(1.4);
    const [soft] = blurred(scene, truth, 8);
    const { psf, takenBack } = psfBetween(soft, inner(scene[0], 8), 6, PLAIN_KERNELS);
    expect(takenBack).toBeGreaterThan(0.97);
    const middle = (psf.data.length - 1) >> 1;
    expect(psf.data[middle]).toBeGreaterThan(0.8 * truth.data[(truth.data.length - 1) >> 1]);
    expect(psf.data[middle]).toBeLessThan(1.25 * truth.data[(truth.data.length - 1) >> 1]);
  });

  it('of an unchanged picture is a point', () => {
    const scene = deadLeaves(SIDE, SIDE, 22, 2);
    const { psf, takenBack } = psfBetween(scene, scene, 4, PLAIN_KERNELS);
    expect(psf.data[(psf.data.length - 1) >> 1]).toBeGreaterThan(0.95);
    expect(takenBack).toBe(1);
  });
});

describe('limits', () => {
  it('one scale: 1 where check begins, 2 where damaged begins', () => {
    for (const limit of Object.values(LIMITS)) {
      expect(levelOf(limit.check, limit)).toBe(1);
      expect(levelOf(limit.damaged, limit)).toBe(2);
      expect(verdictOf(limit.check, limit)).toBe('check');
      expect(verdictOf(limit.damaged, limit)).toBe('damaged');
      expect(verdictOf(0.9 * limit.check, limit)).toBe('safe');
    }
  });
});
