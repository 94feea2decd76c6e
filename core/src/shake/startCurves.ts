import { CONTROLS, pointsOf, wanderingCurve, type PathCurve } from '../psf/pathCurve';
import type { SeededRandom } from '../seededRandom';

/** Of ten curves to begin with so many wander; the others bend evenly, press and rest, or tremble. */
const WANDERING = 5;
const BENDING = 7;
const PRESSING = 9;

/** A curve to begin a search with, the longer side of its box `extentPx`; of ten in turn several kinds. */
export function startCurve(random: SeededRandom, extentPx: number, at: number): PathCurve {
  const kind = at % 10;
  if (kind < WANDERING) return wanderingCurve(random, extentPx);
  const drawn = kind < BENDING ? bending(random) : kind < PRESSING ? pressing(random) : trembling(random);
  const curve = Float64Array.from({ length: 2 * CONTROLS }, (_, i) => {
    const place = drawn((i >> 1) / (CONTROLS - 1));
    return i % 2 === 0 ? place[0] : place[1];
  });
  const { x, y } = pointsOf(curve);
  const extent = (values: Float64Array) => Math.max(...values) - Math.min(...values);
  const scale = extentPx / Math.max(extent(x), extent(y), 1e-9);
  return curve.map((value) => scale * value);
}

type Drawn = (t: number) => readonly [x: number, y: number];

/** Part of a circle, half as fast at one end as at the other. */
function bending(random: SeededRandom): Drawn {
  const [from, swept, pace] = [2 * Math.PI * random.uniform(), 0.5 + 3 * random.uniform(), random.uniform() - 0.5];
  return (t) => {
    const angle = from + swept * (t + pace * t * (1 - t));
    return [Math.cos(angle), Math.sin(angle)];
  };
}

/** Rest, one stroke that may bend, and rest. */
function pressing(random: SeededRandom): Drawn {
  const [begin, length] = [0.6 * random.uniform(), 0.2 + 0.5 * random.uniform()];
  const [direction, bend] = [2 * Math.PI * random.uniform(), 2 * (random.uniform() - 0.5)];
  const [driftX, driftY] = [0.15 * random.normal(), 0.15 * random.normal()];
  return (t) => {
    const along = Math.min(1, Math.max(0, (t - begin) / length));
    const across = bend * along * (1 - along);
    const [cos, sin] = [Math.cos(direction), Math.sin(direction)];
    return [along * cos - across * sin + driftX * t, along * sin + across * cos + driftY * t];
  };
}

/** One to four waves over a drift. */
function trembling(random: SeededRandom): Drawn {
  const [driftX, driftY] = [2 * random.normal(), 2 * random.normal()];
  const waves = Array.from({ length: 3 }, () => ({
    turns: 2 * Math.PI * (1 + 3 * random.uniform()),
    phase: 2 * Math.PI * random.uniform(),
    x: random.normal(),
    y: random.normal(),
  }));
  return (t) => [
    waves.reduce((sum, { turns, phase, x }) => sum + 0.5 * x * Math.sin(turns * t + phase), driftX * t),
    waves.reduce((sum, { turns, phase, y }) => sum + 0.5 * y * Math.sin(turns * t + phase), driftY * t),
  ];
}
