import type { PathPoint } from '../psf/pathPsf';
import type { SeededRandom } from '../seededRandom';

const STEPS = 400;
/** Share of its direction that the hand keeps from one step to the next. */
const STEADINESS = 0.985;

/**
 * The way a hand-held camera wanders during one exposure: a velocity that keeps its direction for a while, scaled so
 * that the longer side of its box is `extentPx`. Even time between points, so slow stretches weigh more.
 */
export function shakePath(random: SeededRandom, extentPx: number): PathPoint[] {
  let [x, y, vx, vy] = [0, 0, random.normal(), random.normal()];
  const raw: PathPoint[] = [];
  const kick = Math.sqrt(1 - STEADINESS * STEADINESS);
  for (let i = 0; i < STEPS; i++) {
    vx = STEADINESS * vx + kick * random.normal();
    vy = STEADINESS * vy + kick * random.normal();
    x += vx;
    y += vy;
    raw.push({ x, y });
  }
  const range = (pick: (point: PathPoint) => number) => {
    const values = raw.map(pick);
    return { low: Math.min(...values), high: Math.max(...values) };
  };
  const across = range((point) => point.x);
  const down = range((point) => point.y);
  const scale = extentPx / Math.max(across.high - across.low, down.high - down.low, 1e-9);
  const middle = { x: mean(raw, (point) => point.x), y: mean(raw, (point) => point.y) };
  return raw.map((point) => ({ x: (point.x - middle.x) * scale, y: (point.y - middle.y) * scale }));
}

function mean(points: readonly PathPoint[], pick: (point: PathPoint) => number): number {
  return points.reduce((sum, point) => sum + pick(point), 0) / points.length;
}
