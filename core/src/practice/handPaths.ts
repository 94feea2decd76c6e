import type { PathPoint } from '../psf/pathPsf';
import type { SeededRandom } from '../seededRandom';
import { shakePath } from './shakePath';

/** Ways a hand moves a camera during one exposure, each drawn by rules of its own. */
export const HAND_PATHS = ['wander', 'spline', 'arc', 'tremor', 'jolt'] as const;
export type HandPath = (typeof HAND_PATHS)[number];

const STEPS = 400;

/**
 * A path of one kind: points at even time, its middle at 0, the longer side of its box `extentPx`.
 *
 * - wander: a velocity that keeps its direction for a while (shakePath).
 * - spline: a smooth curve through four to six random places, at an uneven pace.
 * - arc: part of a circle about a far point (the wrist), at a pace that rises and falls.
 * - tremor: the hand's trembling of 8 to 12 Hz over a slow drift; 1/8 to 1/3 s of it.
 * - jolt: rest, one quick bent stroke (the shutter pressed), and rest again.
 *
 * Source: 8–12 Hz for the trembling of a held hand: common knowledge of physiology, from memory; the rest are rules of
 * our own.
 */
export function handPath(kind: HandPath, random: SeededRandom, extentPx: number): PathPoint[] {
  return kind === 'wander' ? shakePath(random, extentPx) : placed(DRAWN[kind](random), extentPx);
}

const DRAWN: Record<Exclude<HandPath, 'wander'>, (random: SeededRandom) => PathPoint[]> = {
  spline,
  arc,
  tremor,
  jolt,
};

const overTime = (point: (t: number) => PathPoint): PathPoint[] =>
  Array.from({ length: STEPS }, (_, i) => point(i / (STEPS - 1)));

function spline(random: SeededRandom): PathPoint[] {
  const count = 4 + Math.floor(3 * random.uniform());
  const places = Array.from({ length: count + 2 }, () => ({ x: random.normal(), y: random.normal() }));
  const bend = 0.6 * (random.uniform() - 0.5);
  return overTime((t) => {
    const even = Math.min(0.999999, Math.max(0, t + bend * Math.sin(Math.PI * t) ** 2)) * (count - 1);
    const i = Math.floor(even);
    return betweenPlaces(places.slice(i, i + 4), even - i);
  });
}

/** Source: Catmull & Rom, "A class of local interpolating splines", Computer Aided Geometric Design (1974). */
function betweenPlaces([p, q, r, s]: readonly PathPoint[], t: number): PathPoint {
  const along = (a: number, b: number, c: number, d: number) =>
    0.5 * (2 * b + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t * t + (3 * b - a - 3 * c + d) * t ** 3);
  return { x: along(p.x, q.x, r.x, s.x), y: along(p.y, q.y, r.y, s.y) };
}

function arc(random: SeededRandom): PathPoint[] {
  const from = 2 * Math.PI * random.uniform();
  const swept = (0.6 + 2.4 * random.uniform()) * (random.uniform() < 0.5 ? 1 : -1);
  const pace = 0.9 * random.uniform();
  return overTime((t) => {
    const angle = from + swept * (t - (pace * Math.sin(2 * Math.PI * t)) / (2 * Math.PI));
    return { x: Math.cos(angle), y: Math.sin(angle) };
  });
}

function tremor(random: SeededRandom): PathPoint[] {
  const seconds = 0.125 + 0.21 * random.uniform();
  const drift = { x: 2 * random.normal(), y: 2 * random.normal() };
  const waves = Array.from({ length: 6 }, () => ({
    hertz: 8 + 4 * random.uniform(),
    x: 0.5 * random.normal(),
    y: 0.5 * random.normal(),
    phase: 2 * Math.PI * random.uniform(),
  }));
  return overTime((t) => {
    const at = waves.map(({ hertz, phase }) => Math.sin(2 * Math.PI * hertz * seconds * t + phase));
    const sum = (axis: 'x' | 'y') => waves.reduce((total, wave, i) => total + wave[axis] * at[i], drift[axis] * t);
    return { x: sum('x'), y: sum('y') };
  });
}

function jolt(random: SeededRandom): PathPoint[] {
  const [begin, length] = [0.15 + 0.35 * random.uniform(), 0.2 + 0.3 * random.uniform()];
  const direction = 2 * Math.PI * random.uniform();
  const bend = 1.5 * (random.uniform() - 0.5);
  const drift = { x: 0.15 * random.normal(), y: 0.15 * random.normal() };
  return overTime((t) => {
    const s = Math.min(1, Math.max(0, (t - begin) / length));
    const along = s * s * (3 - 2 * s);
    const across = bend * along * (1 - along);
    return {
      x: along * Math.cos(direction) - across * Math.sin(direction) + drift.x * t,
      y: along * Math.sin(direction) + across * Math.cos(direction) + drift.y * t,
    };
  });
}

function placed(path: readonly PathPoint[], extentPx: number): PathPoint[] {
  const rangeOf = (values: readonly number[]) => Math.max(...values) - Math.min(...values);
  const meanOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const [xs, ys] = [path.map(({ x }) => x), path.map(({ y }) => y)];
  const scale = extentPx / Math.max(rangeOf(xs), rangeOf(ys), 1e-9);
  const middle = { x: meanOf(xs), y: meanOf(ys) };
  return path.map(({ x, y }) => ({ x: (x - middle.x) * scale, y: (y - middle.y) * scale }));
}
