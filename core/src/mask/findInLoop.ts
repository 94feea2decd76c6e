import { boxMean } from '../picture/boxMean';
import { LOCAL_PARTS, outlined, SURE, within, type FoundSubject } from './findSubject';
import { gridCut } from './gridCut';
import { costIn, fitMixture } from './mixture';
import { FEATURES, LOCAL_FEATURES, localFeatures, samplesWhere } from './subjectFeatures';

/** Rounds of mixtures and cuts; what is found changes little after. */
const ROUNDS = 5;
const FOCUS_PARTS = 5;
const PLACE_SAY = 0.5;
const FOCUS_SAY = 0.7;
/** So far round the loop, as a share of its size, colours count as what lies behind the subject. */
const BEHIND_SHARE = 0.35;
const LEAST_BEHIND = 12;
/** Nats by which the middle of the loop rather is the subject, and its rim rather not: loops are drawn loosely. */
const MIDDLE_PULL = 1.5;
const RIM_PULL = 2;
/** Depth, as a share of the deepest place, up to which the rim reaches. */
const RIM_DEPTH = 0.12;

/**
 * The subject inside a loop drawn round it, whatever else is sharp in the frame: what lies outside is background for
 * sure, its colours near the loop tell what lies behind the subject inside, and a minimum cut parts the two.
 *
 * @param loop - x0, y0, x1, y1 … in px of the small picture; its ends are joined.
 * @returns 1 where the subject is; nothing where the loop holds nothing.
 * Source: Rother, Kolmogorov, Blake, "GrabCut: interactive foreground extraction using iterated graph cuts", ACM
 * Transactions on Graphics 23 (2004).
 */
export function findInLoop({ width, height, features, grid }: FoundSubject, loop: readonly number[]): Uint8Array {
  const inside = insideLoop(loop, width, height);
  const held = inside.reduce((sum, value) => sum + value, 0);
  if (held === 0) return inside;
  const local = localFeatures(features, width);
  const reach = Math.max(LEAST_BEHIND, Math.round(BEHIND_SHARE * Math.sqrt(held)));
  const near = boxMean({ width, height, data: new Float32Array(inside) }, reach).data;
  /** Colour and place, and colour and focus, say it together. */
  const mixturesWhere = (test: (i: number) => boolean) => {
    const placed = fitMixture(samplesWhere(local, test), LOCAL_FEATURES, LOCAL_PARTS);
    const focused = fitMixture(featuresWhere(features, test), FEATURES, FOCUS_PARTS);
    return (i: number) =>
      PLACE_SAY * costIn(placed, local, LOCAL_FEATURES * i) + FOCUS_SAY * costIn(focused, features, FEATURES * i);
  };
  const isBehind = (i: number) => inside[i] === 0 && near[i] > 1e-4;
  const leaning = leaningOf(inside, width, height);
  let labels: Uint8Array = Uint8Array.from(inside, (value, i) => (value === 1 && leaning[i] > 0 ? 1 : 0));
  for (let round = 0; round < ROUNDS; round++) {
    const own = mixturesWhere((i) => labels[i] === 1);
    const other = mixturesWhere((i) => isBehind(i) || (inside[i] === 1 && labels[i] === 0));
    const pull = new Float32Array(inside.length);
    for (let i = 0; i < pull.length; i++) {
      pull[i] = inside[i] === 0 ? -SURE : within(other(i) - own(i)) + leaning[i];
    }
    const next = gridCut(grid, pull);
    if (next.every((label) => label === 0)) break;
    labels = next;
  }
  const drawn = outlined(labels, features, width, height, grid);
  return drawn.map((label, i) => (inside[i] === 1 ? label : 0));
}

function featuresWhere(features: Float32Array, test: (i: number) => boolean): Float32Array {
  const own: number[] = [];
  for (let i = 0; i < features.length / FEATURES; i += 2) {
    if (test(i)) for (let f = 0; f < FEATURES; f++) own.push(features[FEATURES * i + f]);
  }
  return Float32Array.from(own);
}

/** Nats for the subject by how deep a place lies in the loop. */
function leaningOf(inside: Uint8Array, width: number, height: number): Float32Array {
  const depth = depthIn(inside, width, height);
  const deepest = depth.reduce((most, value) => Math.max(most, value), 1);
  return depth.map((value) => {
    const share = value / deepest;
    return share < RIM_DEPTH ? -RIM_PULL * (1 - share / RIM_DEPTH) : MIDDLE_PULL * (share - RIM_DEPTH);
  });
}

/** Steps to the outside, by two passes. Source: Rosenfeld & Pfaltz, Journal of the ACM 13 (1966). */
function depthIn(inside: Uint8Array, width: number, height: number): Float32Array {
  const depth = Float32Array.from(inside, (value) => (value === 1 ? width + height : 0));
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= width || y >= height ? 0 : depth[y * width + x]);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      depth[i] = Math.min(depth[i], at(x - 1, y) + 1, at(x, y - 1) + 1);
    }
  }
  for (let y = height - 1; y >= 0; y--) {
    for (let x = width - 1; x >= 0; x--) {
      const i = y * width + x;
      depth[i] = Math.min(depth[i], at(x + 1, y) + 1, at(x, y + 1) + 1);
    }
  }
  return depth;
}

/** 1 where a sample's middle lies inside, by the even-odd rule. */
export function insideLoop(loop: readonly number[], width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const count = loop.length / 2;
  for (let y = 0; y < height; y++) {
    const crossings: number[] = [];
    for (let k = 0; k < count; k++) {
      const [x0, y0] = [loop[2 * k], loop[2 * k + 1]];
      const [x1, y1] = [loop[(2 * k + 2) % loop.length], loop[(2 * k + 3) % loop.length]];
      if (y0 > y === y1 > y) continue;
      crossings.push(x0 + ((y - y0) / (y1 - y0)) * (x1 - x0));
    }
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, Math.ceil(crossings[k]));
      const to = Math.min(width - 1, Math.floor(crossings[k + 1]));
      for (let x = from; x <= to; x++) out[y * width + x] = 1;
    }
  }
  return out;
}
