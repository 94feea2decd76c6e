import type { Channels } from '../picture/picture';
import { boxMean } from '../picture/boxMean';
import { gridCut } from './gridCut';
import { likelySubject } from './likelySubject';
import { costIn, fitMixture, type Mixture } from './mixture';
import { isHole, piecesOf, tidied } from './pieces';
import { FEATURES, featuresOf, LOCAL_FEATURES, localFeatures, samplesWhere } from './subjectFeatures';
import { focusPrior, withOdds } from './subjectPrior';
import { gridOver, type Grid } from './grid';

const PARTS = 5;
export const LOCAL_PARTS = 10;
/** Rounds at half the size, and at the whole. */
const HALF_ROUNDS = 4;
const ROUNDS = 1;
/** How much a difference of neighbours holds a border back (Rother, Kolmogorov, Blake use 50 on their scale). */
const SMOOTHNESS = 6;
/** What focus and place say beside colour, in nats. */
const PRIOR_WEIGHT = 1.6;
const MOST_PULL = 12;
export const SURE = 1e6;
/**
 * What is cut out by the network's odds too counts where the network agrees with it so much, and so much more than with
 * the rest.
 */
const LEAST_AGREEMENT = 0.5;
const LEAST_GAIN = 0.2;
/** A rough cut that lacks more of that is not worth finishing. */
const ROUGH = 0.1;
/** Nats by which a hole may look more like the outside and still be filled. */
const SEEN_THROUGH = -1;

/** What was found in a small picture, and what it was found by. */
export interface FoundSubject {
  readonly width: number;
  readonly height: number;
  readonly features: Float32Array;
  readonly grid: Grid;
  /** 1 where the subject is. */
  readonly labels: Uint8Array;
  /** How far the network says so too: of what either takes for the subject the share that both do; 0 without one. */
  readonly agreement: number;
}

/**
 * Finds the subject: what is in focus, and not at the borders, and what a network takes for one start two mixtures of
 * colour and focus, between which a minimum cut decides; a few rounds of both.
 *
 * @param picture - Linear sRGB, about 400 px a side; larger is slower, not better.
 * Source: Rother, Kolmogorov, Blake, "GrabCut: interactive foreground extraction using iterated graph cuts", ACM
 * Transactions on Graphics 23 (2004).
 */
export function findSubject(picture: Channels): FoundSubject {
  const { width, height } = picture[0];
  const features = featuresOf(picture);
  const grid = gridOf(features, width, height);
  const byFocus = focusPrior(features, width, height);
  const odds = likelySubject(picture)?.subject.data ?? null;
  const inFocus = finelyCut(roughlyCut(features, byFocus, width), features, byFocus, grid, width);
  const labels = odds ? orLikely(inFocus, odds, features, byFocus, grid, width) : inFocus;
  return { width, height, features, grid, labels, agreement: odds ? agreementOf(labels, odds) : 0 };
}

/** What is in focus is not always what is meant: where the network is sure of something else, that. */
function orLikely(
  inFocus: Uint8Array,
  odds: Float32Array,
  features: Float32Array,
  byFocus: Float32Array,
  grid: Grid,
  width: number,
): Uint8Array {
  const wanted = Math.max(LEAST_AGREEMENT, agreementOf(inFocus, odds) + LEAST_GAIN);
  if (wanted > 1) return inFocus;
  const prior = withOdds(byFocus, odds);
  const rough = roughlyCut(features, prior, width);
  if (agreementOf(rough, odds) < wanted - ROUGH) return inFocus;
  const likely = finelyCut(rough, features, prior, grid, width);
  return agreementOf(likely, odds) > wanted ? likely : inFocus;
}

function agreementOf(labels: Uint8Array, odds: Float32Array): number {
  let [both, either] = [0, 0];
  for (let i = 0; i < labels.length; i++) {
    const isLikely = odds[i] > 0;
    if (labels[i] && isLikely) both++;
    if (labels[i] || isLikely) either++;
  }
  return both / Math.max(1, either);
}

/** What a prior, the colours and a minimum cut make of each other, at half the size. */
function roughlyCut(features: Float32Array, prior: Float32Array, width: number): Uint8Array {
  const height = prior.length / width;
  const half = halved(features, prior, width, height);
  let labels: Uint8Array = new Uint8Array(half.prior.length);
  for (let i = 0; i < labels.length; i++) labels[i] = half.prior[i] > 0 ? 1 : 0;
  const halfGrid = gridOf(half.features, half.width, half.height);
  for (let round = 0; round < HALF_ROUNDS; round++) labels = parted(half.features, half.prior, halfGrid, labels);
  return doubled(labels, half.width, width, height);
}

function finelyCut(
  rough: Uint8Array,
  features: Float32Array,
  prior: Float32Array,
  grid: Grid,
  width: number,
): Uint8Array {
  let labels = rough;
  for (let round = 0; round < ROUNDS; round++) labels = parted(features, prior, grid, labels);
  return outlined(labels, features, width, prior.length / width, grid);
}

/** Holes filled, and the outline drawn by colour alone. */
export function outlined(
  labels: Uint8Array,
  features: Float32Array,
  width: number,
  height: number,
  grid: Grid,
): Uint8Array {
  const rough = filled(tidied(labels, width, height), features, width, height);
  return tidied(atEdges(rough, features, width, height, grid), width, height);
}

/** One round: mixtures of what the labels part, and the cut that these ask for. */
function parted(features: Float32Array, prior: Float32Array, grid: Grid, labels: Uint8Array): Uint8Array {
  const inside = mixtureOf(features, labels, 1);
  const outside = mixtureOf(features, labels, 0);
  const pull = new Float32Array(labels.length);
  for (let i = 0; i < pull.length; i++) {
    const said = costIn(outside, features, FEATURES * i) - costIn(inside, features, FEATURES * i);
    pull[i] = within(said) + PRIOR_WEIGHT * prior[i];
  }
  return gridCut(grid, pull);
}

/** Means over squares of 2 px; a last row or column that has no partner is left out. */
function halved(features: Float32Array, prior: Float32Array, width: number, height: number) {
  const half = { width: width >> 1, height: height >> 1 };
  const mean = (values: Float32Array, stride: number) => {
    const out = new Float32Array(stride * half.width * half.height);
    for (let i = 0; i < out.length; i++) {
      const place = Math.floor(i / stride);
      const at = stride * (2 * Math.floor(place / half.width) * width + 2 * (place % half.width)) + (i % stride);
      const below = at + stride * width;
      out[i] = (values[at] + values[at + stride] + values[below] + values[below + stride]) / 4;
    }
    return out;
  };
  return { ...half, features: mean(features, FEATURES), prior: mean(prior, 1) };
}

function doubled(labels: Uint8Array, halfWidth: number, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const halfHeight = labels.length / halfWidth;
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.min(y >> 1, halfHeight - 1) * halfWidth;
    for (let x = 0; x < width; x++, i++) out[i] = labels[row + Math.min(x >> 1, halfWidth - 1)];
  }
  return out;
}

/** No single sample's colour says more than this. */
export const within = (said: number) => Math.min(MOST_PULL, Math.max(-MOST_PULL, said));

/**
 * Detail spreads as far as it is gathered, so the border found by focus lies outside the true one: in a band around it
 * colour alone decides, by what lies well inside and well outside nearby.
 */
function atEdges(labels: Uint8Array, features: Float32Array, width: number, height: number, grid: Grid): Uint8Array {
  const local = localFeatures(features, width);
  const band = Math.max(3, Math.round(width / 65));
  const shareAround = (reach: number) => boxMean({ width, height, data: new Float32Array(labels) }, reach).data;
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
  return gridCut(grid, pull);
}

/** Holes are filled unless what is seen through them looks like what lies outside. */
function filled(labels: Uint8Array, features: Float32Array, width: number, height: number): Uint8Array {
  const holes = piecesOf(labels, 0, width, height).filter((piece) => isHole(piece, width, height));
  if (holes.length === 0) return labels;
  const local = localFeatures(features, width);
  const inside = fitMixture(
    samplesWhere(local, (i) => labels[i] === 1),
    LOCAL_FEATURES,
    LOCAL_PARTS,
  );
  const inHole = new Uint8Array(labels.length);
  for (const hole of holes) for (const i of hole) inHole[i] = 1;
  const outside = fitMixture(
    samplesWhere(local, (i) => labels[i] === 0 && inHole[i] === 0),
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

function mixtureOf(features: Float32Array, labels: Uint8Array, label: 0 | 1): Mixture {
  // A third of the samples describes the colours as well as all.
  const own: number[] = [];
  for (let i = 0; i < labels.length; i += 3) {
    if (labels[i] === label) for (let f = 0; f < FEATURES; f++) own.push(features[FEATURES * i + f]);
  }
  return fitMixture(Float32Array.from(own), FEATURES, PARTS);
}

function gridOf(features: Float32Array, width: number, height: number): Grid {
  let [sum, count] = [0, 0];
  const apart = (i: number, j: number) => {
    const l = features[FEATURES * i] - features[FEATURES * j];
    const a = features[FEATURES * i + 1] - features[FEATURES * j + 1];
    const b = features[FEATURES * i + 2] - features[FEATURES * j + 2];
    return l * l + a * a + b * b;
  };
  for (let i = 0; i + width < features.length / FEATURES; i += 2) {
    sum += apart(i, i + 1) + apart(i, i + width);
    count += 2;
  }
  const beta = count / Math.max(1e-9, 2 * sum);
  return gridOver(
    width,
    height,
    null,
    (i, j, isDiagonal) => (SMOOTHNESS * Math.exp(-beta * apart(i, j))) / (isDiagonal ? Math.SQRT2 : 1),
  );
}
