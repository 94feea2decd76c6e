import { createComplex, fft2d } from '../fourier/fft2d';
import type { Plane } from '../picture/plane';
import { NATURAL_SLOPE as SLOPE } from '../spectrum/naturalSlope';
import { besselJ1 } from '../psf/bessel';
import type { NoiseLine } from '../noise/noise';

/** Diameter of the disc at one place. */
export interface LocalSize {
  readonly x: number;
  readonly y: number;
  readonly sizePx: number;
}

const SIDE = 64;
const LEAST_STEP = 32;
export const MOST_PLACES = 1000;
const LEAST_COVER = 0.6;
const MOST_CLIPPED = 0.05;
const LEAST_SIZE_PX = 1;
const MOST_SIZE_PX = 22;
const SIZE_RATIO = 1.13;
/** ln of how far the local noise may lie above the noise model: gloss and grain are rougher than flat places. */
const FLOOR_RISES = [0, 0.8, 1.6, 2.4, 3.2, 4, 4.8, 5.6];
/** Cost of a floor that far above the model, per unit squared. */
const RISE_COST = 0.0156;
const USUAL_RISE = 1.8;
const ROUNDS = 4;
/** Power over expected power counts at most this much: a single window's spectrum scatters widely. */
const MOST_RATIO = 8;
const BASE_SIGMA_PX = 0.6;
/**
 * True over read size. A window is read by its finest detail, and the sharper part of it has most of that: 1450 windows
 * of four frames with known depth read 0.94, 0.98, 0.89 and 0.90 of the truth in the median, evenly blurred pictures
 * 0.98.
 */
const TRUE_OVER_READ = 1.05;

/**
 * Size of a missed focus place by place: in windows of 64 px the amplitude of a natural spectrum (f^−2.1), the noise
 * floor and the disc's diameter are fitted by the Whittle likelihood, each place together with its neighbours. Small
 * windows matter: a sharp whisker beside a soft eye would speak for both.
 *
 * @param use - Over 0.5 counts.
 * @param highest - Frequency, cycles per px, up to which the spectrum is believed (JPEG: 0.3).
 * @returns Places at the middles of the windows; empty where none fits.
 * Source: Whittle, Arkiv för Matematik 2 (1953) for the likelihood; own measurements on frames with truth.
 */
export function localSizes(
  luma: Plane,
  use: Plane,
  clipped: Uint8Array,
  noise: NoiseLine,
  highest: number,
): LocalSize[] {
  const windows = windowsInside(luma, use, clipped);
  if (windows.places.length === 0) return [];
  const bins = binsUpTo(highest);
  const sizes: number[] = [];
  for (let size = LEAST_SIZE_PX; size <= MOST_SIZE_PX; size *= SIZE_RATIO) sizes.push(size);
  const shapes = sizes.map((size) => shapeOf(bins, size));
  const costs = windows.places.map(({ x, y }) => {
    const { power, mean } = spectrumAt(luma, x, y, bins);
    return costsOf(power, shapes, Math.max(1e-9, noise.a * Math.max(0, mean) + noise.b));
  });
  return windows.places.map(({ x, y }, i) => ({
    x: x + SIDE / 2,
    y: y + SIDE / 2,
    sizePx: TRUE_OVER_READ * LEAST_SIZE_PX * SIZE_RATIO ** leastOf(costsAround(windows.places, costs, i, windows.step)),
  }));
}

/** How strongly a window can speak against a size: beside a sharp whisker a soft eye must still be heard. */
const MOST_SAY = 0.1;

/** Costs of a place and its neighbours together: what a single window leaves in doubt they settle. */
function costsAround(places: readonly Place[], costs: readonly Float64Array[], i: number, step: number): Float64Array {
  const sum = new Float64Array(costs[i].length);
  places.forEach((place, j) => {
    const apart = ((place.x - places[i].x) ** 2 + (place.y - places[i].y) ** 2) / (step * step);
    if (apart > 2.1) return;
    const weight = apart === 0 ? 1 : apart < 1.5 ? 0.5 : 0.25;
    const least = Math.min(...costs[j]);
    for (let k = 0; k < sum.length; k++) sum[k] += weight * Math.min(MOST_SAY, costs[j][k] - least);
  });
  return sum;
}

/** Place of the least value, by the parabola through it and its neighbours. */
function leastOf(values: Float64Array): number {
  const at = values.indexOf(Math.min(...values));
  if (at === 0 || at === values.length - 1) return at;
  const bend = values[at - 1] - 2 * values[at] + values[at + 1];
  return bend > 0 ? at + (values[at - 1] - values[at + 1]) / (2 * bend) : at;
}

interface Place {
  readonly x: number;
  readonly y: number;
}

function windowsInside(luma: Plane, use: Plane, clipped: Uint8Array): { places: Place[]; step: number } {
  for (let step = LEAST_STEP; ; step = Math.ceil(step * 1.25)) {
    const places: Place[] = [];
    for (let y = 0; y + SIDE <= luma.height; y += step) {
      for (let x = 0; x + SIDE <= luma.width; x += step) {
        let used = 0;
        let white = 0;
        for (let row = y; row < y + SIDE; row += 2) {
          for (let i = row * luma.width + x; i < row * luma.width + x + SIDE; i += 2) {
            if (use.data[i] > 0.5) used++;
            if (clipped[i]) white++;
          }
        }
        const count = (SIDE * SIDE) / 4;
        if (used >= LEAST_COVER * count && white <= MOST_CLIPPED * count) places.push({ x, y });
      }
    }
    if (places.length <= MOST_PLACES) return { places, step };
  }
}

interface Bin {
  readonly at: number;
  readonly f: number;
}

/** Every second bin of one half-plane, without the lowest. */
function binsUpTo(highest: number): Bin[] {
  const bins: Bin[] = [];
  for (let v = 0; v <= SIDE / 2; v++) {
    for (let u = v % 2; u < SIDE; u += 2) {
      if ((v === 0 || v === SIDE / 2) && u > SIDE / 2) continue;
      const f = Math.hypot(u <= SIDE / 2 ? u : u - SIDE, v) / SIDE;
      if (f >= 2.9 / SIDE && f <= highest) bins.push({ at: v * SIDE + u, f });
    }
  }
  return bins;
}

/** Power of a natural spectrum of amplitude 1 through lens, pixel and a disc. */
function shapeOf(bins: readonly Bin[], diameterPx: number): Float64Array {
  return Float64Array.from(bins, ({ f }) => {
    const x = Math.PI * diameterPx * f;
    const h = (2 * besselJ1(x)) / x;
    return (h * h + 3e-4) * Math.exp(-4 * (Math.PI * BASE_SIGMA_PX * f) ** 2) * Math.pow(f, -SLOPE);
  });
}

const HANN = Float64Array.from({ length: SIDE }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / SIDE));
const TAPER = HANN.reduce((sum, value) => sum + value, 0) ** 2;
const ENERGY = HANN.reduce((sum, value) => sum + value * value, 0) ** 2;

function spectrumAt(luma: Plane, x: number, y: number, bins: readonly Bin[]): { power: Float64Array; mean: number } {
  const piece = createComplex(SIDE, SIDE);
  let mean = 0;
  for (let row = 0; row < SIDE; row++) {
    for (let column = 0; column < SIDE; column++) {
      mean += (HANN[row] * HANN[column] * luma.data[(y + row) * luma.width + x + column]) / TAPER;
    }
  }
  for (let row = 0; row < SIDE; row++) {
    for (let column = 0; column < SIDE; column++) {
      const value = luma.data[(y + row) * luma.width + x + column] - mean;
      piece.re[row * SIDE + column] = value * HANN[row] * HANN[column];
    }
  }
  fft2d(piece);
  return { power: Float64Array.from(bins, ({ at }) => (piece.re[at] ** 2 + piece.im[at] ** 2) / ENERGY), mean };
}

/**
 * Negative log likelihood of each shape, the best amplitude and floor found for each: the floor from the last one's on.
 */
function costsOf(power: Float64Array, shapes: readonly Float64Array[], variance: number): Float64Array {
  let rise = 0;
  return Float64Array.from(shapes, (shape) => {
    const costAt = (at: number) =>
      costOf(power, shape, variance * Math.exp(FLOOR_RISES[at])) + RISE_COST * (FLOOR_RISES[at] - USUAL_RISE) ** 2;
    let least = costAt(rise);
    for (const step of [1, -1]) {
      for (let next = rise + step; next >= 0 && next < FLOOR_RISES.length; next += step) {
        const cost = costAt(next);
        if (cost >= least) break;
        least = cost;
        rise = next;
      }
    }
    return least;
  });
}

/** Values from 1e−30 to 1e30 may be multiplied. */
const PER_LOGARITHM = 8;

/** Mean of P/S + ln S, S = A·shape + floor, after a few Newton steps on ln A. */
function costOf(power: Float64Array, shape: Float64Array, floor: number): number {
  let amplitude = 0;
  for (let q = 0; q < shape.length; q++) amplitude += power[q] / shape[q] / shape.length;
  amplitude = Math.max(1e-12, Math.min(amplitude, power[0] / shape[0] + 1e-12));
  for (let round = 0; round < ROUNDS; round++) {
    let slope = 0;
    let curvature = 1e-6;
    for (let q = 0; q < shape.length; q++) {
      const signal = amplitude * shape[q];
      const inverse = 1 / (signal + floor);
      const share = signal * inverse;
      slope += share * (Math.min(MOST_RATIO, power[q] * inverse) - 1);
      curvature += share * share;
    }
    amplitude *= Math.exp(Math.max(-1.5, Math.min(1.5, slope / curvature)));
  }
  let cost = 0;
  // One logarithm for so many as their product stays far from what a number holds: a third of all the time was theirs.
  let product = 1;
  for (let q = 0; q < shape.length; q++) {
    const total = amplitude * shape[q] + floor;
    cost += Math.min(MOST_RATIO, power[q] / total);
    product *= total;
    if (q % PER_LOGARITHM === PER_LOGARITHM - 1) {
      cost += Math.log(product);
      product = 1;
    }
  }
  return (cost + Math.log(product)) / shape.length;
}
