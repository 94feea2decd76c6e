import { neighbourhoodRange, type Plane } from '@vitrocept/core';
import type { MaskCase } from './maskCases';

/** Parts of a subject narrower than twice this, px, are whiskers and hairs; and how near they must be found. */
const WHISKER_REACH = 3;
/** How near an outline has to be to the true one to count, px per px of the diagonal. */
const NEAR_SHARE = 0.0035;

type Truth = Pick<MaskCase, 'truth'>;

/** Intersection over union. */
export function overlapOf({ data }: Plane, { truth }: Truth): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < data.length; i++) {
    const [found, own] = [data[i] > 0.5, truth[i] > 127];
    if (found && own) both++;
    if (found || own) either++;
  }
  return both / either;
}

/** Share of the whiskers, hairs and feelers of a subject that have something found within 3 px; NaN: it has none. */
export function whiskerRecall(found: Plane, { truth }: Truth): number {
  const { width, height } = found;
  const planeOf = (isIn: (i: number) => boolean): Plane => ({
    width,
    height,
    data: Float32Array.from(truth, (_, i) => (isIn(i) ? 1 : 0)),
  });
  const subject = planeOf((i) => truth[i] > 127);
  const broad = neighbourhoodRange(neighbourhoodRange(subject, WHISKER_REACH).low, WHISKER_REACH).high;
  const near = neighbourhoodRange(
    planeOf((i) => found.data[i] > 0.5),
    WHISKER_REACH,
  ).high;
  let [hit, all] = [0, 0];
  for (let i = 0; i < truth.length; i++) {
    if (subject.data[i] === 0 || broad.data[i] > 0) continue;
    all++;
    hit += near.data[i];
  }
  return all > 0 ? hit / all : NaN;
}

/** F-score of the outlines: how much of each lies near the other (Martin, Fowlkes, Malik 2004). */
export function outlineScore({ data, width, height }: Plane, { truth }: Truth): number {
  const near = Math.max(1, Math.round(NEAR_SHARE * Math.hypot(width, height)));
  const outlineOf = (isIn: (i: number) => boolean) => {
    const outline: number[] = [];
    for (let i = 0; i < width * height - width; i++) {
      if (i % width < width - 1 && (isIn(i) !== isIn(i + 1) || isIn(i) !== isIn(i + width))) outline.push(i);
    }
    return outline;
  };
  const [own, other] = [outlineOf((i) => data[i] > 0.5), outlineOf((i) => truth[i] > 127)];
  const share = (from: readonly number[], to: readonly number[]) => {
    const covered = new Uint8Array(width * height);
    for (const i of to) {
      for (let dy = -near; dy <= near; dy++) {
        for (let dx = -near; dx <= near; dx++) {
          if (dx * dx + dy * dy <= near * near) covered[i + dy * width + dx] = 1;
        }
      }
    }
    return from.length > 0 ? from.filter((i) => covered[i] === 1).length / from.length : 0;
  };
  const [precision, recall] = [share(own, other), share(other, own)];
  return precision + recall > 0 ? (2 * precision * recall) / (precision + recall) : 0;
}

/** The mean of a mask along a movement round its place. */
export function swept(
  mask: Uint8Array,
  width: number,
  height: number,
  [dx, dy]: readonly [number, number],
): Uint8Array {
  const steps = Math.ceil(Math.hypot(dx, dy));
  const sums = new Float32Array(mask.length);
  for (let k = 0; k <= steps; k++) {
    const [left, down] = [dx, dy].map((length) => Math.round((k / steps - 0.5) * length));
    for (let y = 0; y < height; y++) {
      const row = Math.min(height - 1, Math.max(0, y - down)) * width;
      for (let x = 0; x < width; x++) {
        sums[y * width + x] += mask[row + Math.min(width - 1, Math.max(0, x - left))] / (steps + 1);
      }
    }
  }
  return Uint8Array.from(sums, Math.round);
}
