import { seededRandom, subjectArea } from '@vitrocept/core';
import { maskCases, type MaskCase } from './maskCases';
import { linearOf, nextDab } from './maskRates';
import { overlapOf } from './maskMeasures';

/** Px between the points of a drawn loop, and how far it keeps from the subject, as shares of its size. */
const STEP_PX = 10;
const LOOSE = { least: 0.05, most: 0.14 };
const DIRECTIONS = 64;

/**
 * Intersection over union of what one gesture finds with another sharp thing in the frame: a loose loop, or one dab on
 * an empty mask; beside it what is found with no help.
 */
export async function loopRates(only: RegExp | null): Promise<void> {
  console.log('\nwith a distractor'.padEnd(27), 'none   loop   one dab   s a loop');
  const rows: number[][] = [];
  for (const [i, made] of (await maskCases(true)).entries()) {
    if (only && !only.test(made.name)) continue;
    const picture = linearOf(made);
    const alone = overlapOf(subjectArea(picture, []), made);
    const before = process.cpuUsage();
    const looped = overlapOf(subjectArea(picture, [], looseLoop(made, i)), made);
    const { user, system } = process.cpuUsage(before);
    const nothing = { width: made.width, height: made.height, data: new Float32Array(made.truth.length) };
    const dabbed = overlapOf(subjectArea(picture, [nextDab(nothing, made)], []), made);
    rows.push([alone, looped, dabbed, (user + system) / 1e6]);
    console.log(
      made.name.padEnd(26),
      rows
        .at(-1)!
        .map((value) => value.toFixed(3))
        .join('  '),
    );
  }
  const mean = rows[0].map((_, k) => rows.reduce((sum, row) => sum + row[k], 0) / rows.length);
  console.log('mean'.padEnd(26), mean.map((value) => value.toFixed(3)).join('  '));
}

/** As a hand draws it: round the subject as seen from its middle, now nearer, now farther. */
export function looseLoop({ width, height, truth }: MaskCase, seed: number): number[] {
  const random = seededRandom(seed + 31);
  let [count, sumX, sumY] = [0, 0, 0];
  truth.forEach((value, i) => {
    if (value <= 127) return;
    count++;
    sumX += i % width;
    sumY += Math.floor(i / width);
  });
  const [x0, y0] = [sumX / count, sumY / count];
  const size = Math.sqrt(count);
  const farthest = new Float64Array(DIRECTIONS);
  truth.forEach((value, i) => {
    if (value <= 127) return;
    const [dx, dy] = [(i % width) - x0, Math.floor(i / width) - y0];
    const at = Math.round((Math.atan2(dy, dx) / (2 * Math.PI) + 1) * DIRECTIONS) % DIRECTIONS;
    for (const near of [at - 1, at, at + 1]) {
      const k = (near + DIRECTIONS) % DIRECTIONS;
      farthest[k] = Math.max(farthest[k], Math.hypot(dx, dy));
    }
  });
  const corners = Array.from(farthest, (reach, k) => {
    const away = reach + size * (LOOSE.least + (LOOSE.most - LOOSE.least) * random.uniform());
    const angle = (2 * Math.PI * k) / DIRECTIONS;
    const within = (value: number, most: number) => Math.min(most - 1, Math.max(0, value));
    return [within(x0 + away * Math.cos(angle), width), within(y0 + away * Math.sin(angle), height)];
  });
  return corners.flatMap(([x, y], k) => {
    const [nextX, nextY] = corners[(k + 1) % corners.length];
    const steps = Math.max(1, Math.round(Math.hypot(nextX - x, nextY - y) / STEP_PX));
    return Array.from({ length: steps }, (_, s) => [
      x + ((nextX - x) * s) / steps,
      y + ((nextY - y) * s) / steps,
    ]).flat();
  });
}
