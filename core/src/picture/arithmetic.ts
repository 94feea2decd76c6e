import { installedFilters, type EvenTable, type ToneVariance } from './filters';
import { createPlane, type Plane } from './plane';

/** Sample by sample, p − q. */
export function minus(p: Plane, q: Plane): Plane {
  const [a, b] = [p.data, q.data];
  const data = new Float32Array(a.length);
  for (let i = 0; i < data.length; i++) data[i] = a[i] - b[i];
  return { ...p, data };
}

/** Sample by sample, p · q. */
export function product(p: Plane, q: Plane): Plane {
  const [a, b] = [p.data, q.data];
  const data = new Float32Array(a.length);
  for (let i = 0; i < data.length; i++) data[i] = a[i] * b[i];
  return { ...p, data };
}

/** Each of the planes times the light, sample by sample. */
export function lit(planes: readonly Plane[], light: Plane): Plane[] {
  return (installedFilters(light)?.lit ?? plainLit)(planes, light);
}

export const plainLit = (planes: readonly Plane[], light: Plane): Plane[] =>
  planes.map((plane) => product(plane, light));

// What follows is in single precision step by step, as the twins in kernels/assembly/planes.ts are.
const { fround, sqrt } = Math;

/** Weighted sums of three planes, at most three of them: a row of weights each. */
export function mixes(planes: readonly Plane[], rows: readonly (readonly number[])[]): Plane[] {
  return (installedFilters(planes[0])?.mixes ?? plainMixes)(planes, rows);
}

export function plainMixes([p, q, r]: readonly Plane[], rows: readonly (readonly number[])[]): Plane[] {
  return rows.map((weights) => {
    const [a, b, c] = weights.map(fround);
    const out = createPlane(p.width, p.height);
    const [sums, first, second, third] = [out.data, p.data, q.data, r.data];
    for (let i = 0; i < sums.length; i++) {
      sums[i] = fround(fround(a * first[i]) + fround(b * second[i])) + fround(c * third[i]);
    }
    return out;
  });
}

export function mix(planes: readonly Plane[], weights: readonly number[]): Plane {
  return mixes(planes, [weights])[0];
}

/**
 * shown + weight · (own + share · (answer − own) − shown): an answer laid over what lies below, as far as it counts.
 */
export function blendOver(shown: Plane, own: Plane, answer: Plane, weight: Plane, share: number): Plane {
  return (installedFilters(shown)?.blendOver ?? plainBlendOver)(shown, own, answer, weight, share);
}

export function plainBlendOver(shown: Plane, own: Plane, answer: Plane, weight: Plane, share: number): Plane {
  const out = createPlane(shown.width, shown.height);
  const part = fround(share);
  for (let i = 0; i < out.data.length; i++) {
    const [below, base] = [shown.data[i], own.data[i]];
    const wanted = fround(base + fround(part * fround(answer.data[i] - base)));
    out.data[i] = below + fround(weight.data[i] * fround(wanted - below));
  }
  return out;
}

/** The variance that the tones lead to expect, raised to what was found at the sample, but at most `most` times. */
export function varianceByTone(channels: readonly Plane[], variance: ToneVariance, found: Plane, most: number): Plane {
  return (installedFilters(found)?.varianceByTone ?? plainVarianceByTone)(channels, variance, found, most);
}

export function plainVarianceByTone(
  channels: readonly Plane[],
  { base, linear, rooted }: ToneVariance,
  found: Plane,
  most: number,
): Plane {
  const expected = createPlane(found.width, found.height);
  const sums = expected.data.fill(base);
  channels.forEach(({ data }, c) => {
    const [plain, steep] = [fround(linear[c]), fround(rooted[c])];
    for (let i = 0; i < sums.length; i++) {
      const tone = Math.max(0, data[i]);
      sums[i] += fround(tone * fround(plain + fround(steep * fround(sqrt(tone)))));
    }
  });
  const factor = fround(most);
  const values = found.data;
  for (let i = 0; i < sums.length; i++) {
    sums[i] = Math.min(fround(factor * sums[i]), Math.max(sums[i], values[i]));
  }
  return expected;
}

/** (p − q)² / (v + share · w); q is 0 where null. */
export function squaredRatio(p: Plane, q: Plane | null, v: Plane, w: Plane, share: number): Plane {
  return (installedFilters(p)?.squaredRatio ?? plainSquaredRatio)(p, q, v, w, share);
}

export function plainSquaredRatio(p: Plane, q: Plane | null, v: Plane, w: Plane, share: number): Plane {
  const out = createPlane(p.width, p.height);
  const part = fround(share);
  for (let i = 0; i < out.data.length; i++) {
    const difference = fround(p.data[i] - (q ? q.data[i] : 0));
    out.data[i] = fround(difference * difference) / fround(v.data[i] + fround(part * w.data[i]));
  }
  return out;
}

/** scale · √(slope · p + base), 0 where nothing is left under the root. */
export function rooted(plane: Plane, slope: number, base: number, scale: number): Plane {
  return (installedFilters(plane)?.rooted ?? plainRooted)(plane, slope, base, scale);
}

export function plainRooted(plane: Plane, slope: number, base: number, scale: number): Plane {
  const out = createPlane(plane.width, plane.height);
  const [a, b, factor] = [fround(slope), fround(base), fround(scale)];
  for (let i = 0; i < out.data.length; i++) {
    out.data[i] = factor * fround(sqrt(Math.max(0, fround(fround(a * plane.data[i]) + b))));
  }
  return out;
}

/** The curve's value at x, straight lines between its places, beyond them the outermost. */
export function lookUp({ low, perUnit, values }: EvenTable, x: number): number {
  const last = values.length - 1;
  const at = Math.min(last, Math.max(0, fround(fround(x - fround(low)) * fround(perUnit))));
  const k = Math.min(last - 1, Math.trunc(at));
  const share = fround(at - k);
  return fround(fround(values[k] * fround(1 - share)) + fround(values[k + 1] * share));
}

export function lookedUp(plane: Plane, table: EvenTable): Plane {
  return (installedFilters(plane)?.lookedUp ?? plainLookedUp)(plane, table);
}

export function plainLookedUp(plane: Plane, table: EvenTable): Plane {
  return { ...plane, data: plane.data.map((value) => lookUp(table, value)) };
}

const LEAST_LIGHT = 2 ** -14;
/** Terms of 2 · artanh(s) / ln 2 (Abramowitz & Stegun 4.1.27), the highest first. */
const LOG_TERMS = [7, 5, 3, 1].map((power) => fround(2 / Math.LN2 / power));
const ABOVE = fround(1.4142135);
const floats = new Float32Array(1);
const bits = new Int32Array(floats.buffer);

/** log₂ of light, right to 2e−6; darker than 2⁻¹⁴ counts as that. */
export function logLight(light: number): number {
  floats[0] = light > LEAST_LIGHT ? light : LEAST_LIGHT;
  let exponent = (bits[0] >> 23) - 127;
  bits[0] = (bits[0] & 0x7fffff) | 0x3f800000;
  let m = floats[0];
  if (m > ABOVE) {
    exponent++;
    m = fround(m * 0.5);
  }
  const s = fround(fround(m - 1) / fround(m + 1));
  const q = fround(s * s);
  const sum = LOG_TERMS.reduce((total, term) => fround(fround(total * q) + term), 0);
  return fround(exponent + fround(sum * s));
}

export function logLights(plane: Plane): Plane {
  return (installedFilters(plane)?.logLight ?? plainLogLight)(plane);
}

export function plainLogLight(plane: Plane): Plane {
  return { ...plane, data: plane.data.map((value) => logLight(value)) };
}
