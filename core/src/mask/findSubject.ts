import type { Channels } from '../picture/picture';
import { boxMean } from '../picture/boxMean';
import type { Dab } from './maskOperation';
import { geodesicDistance } from './geodesic';
import { gridCut } from './gridCut';
import { costIn, fitMixture, type Mixture } from './mixture';
import { piecesOf, tidied } from './pieces';
import { FEATURES, featuresOf, LOCAL_FEATURES, localFeatures, samplesWhere, smoothed } from './subjectFeatures';
import { priorOf } from './subjectPrior';

const PARTS = 5;
const LOCAL_PARTS = 10;
const ROUNDS = 5;
/** How much a difference of neighbours holds a border back (Rother, Kolmogorov, Blake use 50 on their scale). */
const SMOOTHNESS = 6;
/** What focus and place say beside colour, in nats. */
const PRIOR_WEIGHT = 1.6;
const MOST_PULL = 12;
const SURE = 1e6;
/** Nats by which a hole may look more like the outside and still be filled. */
const SEEN_THROUGH = -1;

/**
 * Finds the subject without any model of what subjects are: what is in focus, and not at the borders, starts two mixtures
 * of colour and focus, between which a minimum cut decides; a few rounds of both.
 *
 * @param picture - Linear sRGB, about 400 px a side; larger is slower, not better.
 * @param dabs - Later ones win.
 * @returns 1 where the subject is.
 * Source: Rother, Kolmogorov, Blake, "GrabCut: interactive foreground extraction using iterated graph cuts", ACM Transactions
 * on Graphics 23 (2004).
 */
export function findSubject(picture: Channels, dabs: readonly Dab[] = []): Uint8Array {
  const { width, height } = picture[0];
  const features = featuresOf(picture);
  const weightOf = edgeWeights(features, width);
  const prior = priorOf(features, width, height);
  let labels: Uint8Array = Uint8Array.from(prior, (value) => (value > 0 ? 1 : 0));
  for (let round = 0; round < ROUNDS; round++) {
    const inside = mixtureOf(features, labels, 1);
    const outside = mixtureOf(features, labels, 0);
    const pull = new Float32Array(width * height);
    for (let i = 0; i < pull.length; i++) {
      const said = costIn(outside, features, FEATURES * i) - costIn(inside, features, FEATURES * i);
      pull[i] = within(said) + PRIOR_WEIGHT * prior[i];
    }
    labels = gridCut(width, height, pull, weightOf);
  }
  const rough = filled(tidied(labels, width, height), features, width, height);
  const found = tidied(atEdges(rough, features, width, height, weightOf), width, height);
  if (dabs.length === 0) return found;
  return repaired(
    found,
    sureFrom(dabs, width, height),
    features,
    smoothed(features, width, height),
    width,
    height,
    weightOf,
  );
}

const within = (said: number) => Math.min(MOST_PULL, Math.max(-MOST_PULL, said));

/** What a dab says at its own place, in nats, and over how much crossed ground it holds. */
const DAB_PULL = 30;
const DAB_HOLD = 0.9;
/** Share of a dab's radius that is beyond doubt: its rim may lie over something else. */
const DAB_CORE = 0.4;
const DAB_STEP = 0.01;
const DAB_FREE = 0.8;
/** What was found before stays unless more than this speaks against it. */
const KEPT_PULL = 3;
const COLOUR_SHARE = 2;

/**
 * Solves again with the person's dabs. A dab speaks for all that can be reached from it without crossing an edge, more than
 * for what lies behind one; elsewhere what was found stays.
 */
function repaired(
  found: Uint8Array,
  sure: Int8Array,
  features: Float32Array,
  smooth: Float32Array,
  width: number,
  height: number,
  weightOf: ReturnType<typeof edgeWeights>,
): Uint8Array {
  const reachedFrom = (sign: 1 | -1) => {
    const seeds = Uint8Array.from(sure, (value) => (value === sign ? 1 : 0));
    return geodesicDistance(smooth, FEATURES, width, seeds, 6, DAB_STEP, DAB_FREE);
  };
  const [toSubject, toRest] = [reachedFrom(1), reachedFrom(-1)];
  const leaning = Float32Array.from(found, (label, i) => {
    const hold = (crossed: number) => DAB_PULL * Math.exp(-((crossed / DAB_HOLD) ** 2));
    const nearest = toSubject[i] < toRest[i] ? hold(toSubject[i]) : -hold(toRest[i]);
    return nearest + (label === 1 ? KEPT_PULL : -KEPT_PULL);
  });
  const local = localFeatures(features, width);
  const labels = leaning.map((value) => (value > 0 ? 1 : 0));
  const inside = fitMixture(
    samplesWhere(local, (i) => labels[i] === 1),
    LOCAL_FEATURES,
    LOCAL_PARTS,
  );
  const outside = fitMixture(
    samplesWhere(local, (i) => labels[i] === 0),
    LOCAL_FEATURES,
    LOCAL_PARTS,
  );
  const pull = new Float32Array(found.length);
  for (let i = 0; i < pull.length; i++) {
    const said = costIn(outside, local, LOCAL_FEATURES * i) - costIn(inside, local, LOCAL_FEATURES * i);
    pull[i] = sure[i] !== 0 ? sure[i] * SURE : leaning[i] + COLOUR_SHARE * within(said);
  }
  return nearDabs(found, gridCut(width, height, pull, weightOf), sure, width, height);
}

/**
 * What was found, changed only as the dabs say and only where that hangs together with one of them: a dab repairs its own
 * surroundings and leaves the rest of a good mask alone.
 */
function nearDabs(found: Uint8Array, solved: Uint8Array, sure: Int8Array, width: number, height: number): Uint8Array {
  const out = found.slice();
  for (const label of [1, 0] as const) {
    const sign = label === 1 ? 1 : -1;
    const turned = Uint8Array.from(solved, (value, i) =>
      sure[i] === sign || (value === label && found[i] !== label && sure[i] === 0) ? 1 : 0,
    );
    for (const piece of piecesOf(turned, 1, width, height)) {
      if (piece.some((i) => sure[i] === sign)) for (const i of piece) out[i] = label;
    }
  }
  return out;
}

/**
 * Detail spreads as far as it is gathered, so the border found by focus lies outside the true one: in a band around it
 * colour alone decides, by what lies well inside and well outside nearby.
 */
function atEdges(
  labels: Uint8Array,
  features: Float32Array,
  width: number,
  height: number,
  weightOf: ReturnType<typeof edgeWeights>,
): Uint8Array {
  const local = localFeatures(features, width);
  const band = Math.max(3, Math.round(width / 65));
  const shareAround = (reach: number) => boxMean({ width, height, data: Float32Array.from(labels) }, reach).data;
  const near = shareAround(band);
  const beyond = shareAround(Math.round(band / 2));
  const around = shareAround(4 * band);
  let inside = samplesWhere(local, (i) => near[i] > 0.999);
  if (inside.length < 60 * LOCAL_FEATURES) inside = samplesWhere(local, (i) => labels[i] === 1);
  const outside = samplesWhere(local, (i) => beyond[i] < 0.001 && around[i] > 0.001);
  const [own, other] = [inside, outside].map((samples) => fitMixture(samples, LOCAL_FEATURES, LOCAL_PARTS));
  const pull = new Float32Array(labels.length);
  for (let i = 0; i < pull.length; i++) {
    if (near[i] > 0.999) pull[i] = SURE;
    else if (beyond[i] < 0.001) pull[i] = -SURE;
    else {
      const said = costIn(other, local, LOCAL_FEATURES * i) - costIn(own, local, LOCAL_FEATURES * i);
      pull[i] = within(said);
    }
  }
  return gridCut(width, height, pull, weightOf);
}

/** Holes are filled unless what is seen through them looks like what lies outside. */
function filled(labels: Uint8Array, features: Float32Array, width: number, height: number): Uint8Array {
  const local = localFeatures(features, width);
  const inside = fitMixture(
    samplesWhere(local, (i) => labels[i] === 1),
    LOCAL_FEATURES,
    LOCAL_PARTS,
  );
  const holes = piecesOf(labels, 0, width, height).filter(
    (piece) => !piece.some((i) => i < width || i >= width * (height - 1) || i % width === 0 || i % width === width - 1),
  );
  const isHole = new Uint8Array(labels.length);
  for (const hole of holes) for (const i of hole) isHole[i] = 1;
  const outside = fitMixture(
    samplesWhere(local, (i) => labels[i] === 0 && isHole[i] === 0),
    LOCAL_FEATURES,
    LOCAL_PARTS,
  );
  const out = labels.slice();
  for (const hole of holes) {
    const said = hole.reduce(
      (sum, i) => sum + costIn(outside, local, LOCAL_FEATURES * i) - costIn(inside, local, LOCAL_FEATURES * i),
      0,
    );
    if (said / hole.length > SEEN_THROUGH) for (const i of hole) out[i] = 1;
  }
  return out;
}

/** 1 where a dab says subject, −1 where it says not, else 0. */
function sureFrom(dabs: readonly Dab[], width: number, height: number): Int8Array {
  const sure = new Int8Array(width * height);
  for (const { x, y, radius, isSubject } of dabs) {
    for (let v = Math.max(0, Math.ceil(y - radius)); v <= Math.min(height - 1, y + radius); v++) {
      for (let u = Math.max(0, Math.ceil(x - radius)); u <= Math.min(width - 1, x + radius); u++) {
        if (Math.hypot(u - x, v - y) <= Math.max(1, DAB_CORE * radius)) sure[v * width + u] = isSubject ? 1 : -1;
      }
    }
  }
  return sure;
}

function mixtureOf(features: Float32Array, labels: Uint8Array, label: 0 | 1): Mixture {
  // A third of the samples describes the colours as well as all.
  const own: number[] = [];
  for (let i = 0; i < labels.length; i += 3) {
    if (labels[i] === label) for (let f = 0; f < FEATURES; f++) own.push(features[FEATURES * i + f]);
  }
  return fitMixture(Float32Array.from(own), FEATURES, PARTS);
}

function edgeWeights(features: Float32Array, width: number) {
  let [sum, count] = [0, 0];
  const apart = (i: number, j: number) => {
    let squared = 0;
    for (let f = 0; f < 3; f++) squared += (features[FEATURES * i + f] - features[FEATURES * j + f]) ** 2;
    return squared;
  };
  for (let i = 0; i + width < features.length / FEATURES; i += 2) {
    sum += apart(i, i + 1) + apart(i, i + width);
    count += 2;
  }
  const beta = count / Math.max(1e-9, 2 * sum);
  return (i: number, j: number, isDiagonal: boolean) =>
    (SMOOTHNESS * Math.exp(-beta * apart(i, j))) / (isDiagonal ? Math.SQRT2 : 1);
}
