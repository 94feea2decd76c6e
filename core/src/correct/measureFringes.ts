import type { Plane } from '../picture/plane';
import { gaussianBlur } from '../picture/gaussianBlur';
import { middleOf } from './fallOff';

/** Colours differ; only their fine structure is held against each other. */
const FINE_SIGMA_PX = 1;
const COARSE_SIGMA_PX = 6;
const STEPS = 6;
/** Places that differ by more than this many times the usual are no fringes: reflections, noise, clipped lights. */
const HUBER_TIMES = 1.5;
/** Farther than this no lens is off, %. */
const MOST_PERCENT = 0.5;
/** Samples nearer to the middle than this share of the corner tell nothing. */
const LEAST_FAR = 0.2;

/** So many places are held against each other, those with the strongest edges. */
const MOST_PLACES = 40_000;

/** By how many percent a channel's picture is larger than another's; 0 where its edges say nothing. */
export function measureFringe(channel: Plane, green: Plane): number {
  const [own, other] = [fineOf(channel), fineOf(green)];
  const places = strongestEdges(other);
  let scale = 0;
  for (let step = 0; step < STEPS; step++) {
    const { along, gap } = heldAgainst(own, other, places, scale);
    const usual = medianOf(gap);
    let [sum, weights] = [0, 0];
    for (let i = 0; i < places.length; i++) {
      const size = Math.abs(gap[i]);
      const weight = size <= HUBER_TIMES * usual ? 1 : (HUBER_TIMES * usual) / size;
      sum += weight * along[i] * gap[i];
      weights += weight * along[i] * along[i];
    }
    if (!(weights > 0)) return 0;
    scale += sum / weights;
  }
  const percent = 100 * scale;
  return Number.isFinite(percent) && Math.abs(percent) <= MOST_PERCENT ? percent : 0;
}

/** Samples away from the middle whose picture changes most across them, from the middle outwards. */
function strongestEdges(plane: Plane): Int32Array {
  const { width, height, data } = plane;
  const { x: mx, y: my, corner } = middleOf(plane);
  const places: number[] = [];
  const strengths: number[] = [];
  for (let y = 3; y < height - 3; y++) {
    for (let x = 3; x < width - 3; x++) {
      const [u, v] = [x - mx, y - my];
      const squared = u * u + v * v;
      if (squared < LEAST_FAR ** 2 * corner) continue;
      const i = y * width + x;
      const outwards = (data[i + 1] - data[i - 1]) * u + (data[i + width] - data[i - width]) * v;
      places.push(i);
      strengths.push(Math.abs(outwards) / Math.sqrt(squared));
    }
  }
  if (places.length <= MOST_PLACES) return Int32Array.from(places);
  const limit = Float64Array.from(strengths).sort()[strengths.length - MOST_PLACES];
  return Int32Array.from(places.filter((_, k) => strengths[k] >= limit));
}

/** The fine structure, of the same strength everywhere. */
function fineOf(plane: Plane): Plane {
  const root = { ...plane, data: plane.data.map((value) => Math.sqrt(Math.max(0, value))) };
  const fine = gaussianBlur(root, FINE_SIGMA_PX);
  const coarse = gaussianBlur(root, COARSE_SIGMA_PX);
  const off = { ...fine, data: fine.data.map((value, i) => value - coarse.data[i]) };
  const strength = gaussianBlur({ ...off, data: off.data.map((value) => value * value) }, COARSE_SIGMA_PX);
  return { ...off, data: off.data.map((value, i) => value / (Math.sqrt(Math.max(0, strength.data[i])) + 0.01)) };
}

/**
 * What is left between two pictures when one is scaled about the middle, and what a little more scaling would change of
 * it. A Gauss–Newton step of registration: Lucas & Kanade, IJCAI 1981.
 */
function heldAgainst(own: Plane, other: Plane, places: Int32Array, scale: number) {
  const { width, height } = other;
  const { x: mx, y: my } = middleOf(other);
  const along = new Float64Array(places.length);
  const gap = new Float64Array(places.length);
  for (let k = 0; k < places.length; k++) {
    const [x, y] = [places[k] % width, Math.floor(places[k] / width)];
    const [u, v] = [x - mx, y - my];
    const [px, py] = [x + scale * u, y + scale * v];
    if (px < 1 || py < 1 || px >= width - 2 || py >= height - 2) continue;
    const dx = (cubicAt(own, px + 1, py) - cubicAt(own, px - 1, py)) / 2;
    const dy = (cubicAt(own, px, py + 1) - cubicAt(own, px, py - 1)) / 2;
    along[k] = dx * u + dy * v;
    gap[k] = other.data[places[k]] - cubicAt(own, px, py);
  }
  return { along, gap };
}

/** Between samples by Catmull–Rom's cubic; near the border by the nearest. */
function cubicAt({ width, height, data }: Plane, x: number, y: number): number {
  const [left, top] = [Math.floor(x), Math.floor(y)];
  if (left < 1 || top < 1 || left + 2 >= width || top + 2 >= height) {
    const [u, v] = [Math.max(0, Math.min(width - 1, Math.round(x))), Math.max(0, Math.min(height - 1, Math.round(y)))];
    return data[v * width + u];
  }
  const [u, v] = [x - left, y - top];
  const row = (j: number) => {
    const i = (top + j) * width + left;
    return cubic(data[i - 1], data[i], data[i + 1], data[i + 2], u);
  };
  return cubic(row(-1), row(0), row(1), row(2), v);
}

const cubic = (a: number, b: number, c: number, d: number, t: number): number =>
  b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));

function medianOf(values: Float64Array): number {
  const sizes = values.filter((value) => value !== 0).map(Math.abs);
  return sizes.length > 0 ? sizes.sort()[Math.floor(sizes.length / 2)] : 1;
}
