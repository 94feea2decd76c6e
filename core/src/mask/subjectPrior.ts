import { geodesicDistance } from './geodesic';
import { FEATURES } from './subjectFeatures';

/** What being enclosed says, in the prior's units, and how much has to lie around a sample for all of it. */
const ENCLOSED_WEIGHT = 1;
const ENCLOSED_FULL = 1.5;

/** Of the level that parts sharp from soft: parts of a subject lie nearly in focus only. */
const LEVEL_SHARE = 0.4;

/**
 * What the network and what focus and place say count, where there is a network; it is never surer than so many nats.
 */
const LEARNED_WEIGHT = 0.5;
const BESIDE_LEARNED = 0.5;
const MOST_ODDS = 6;

/** The same where the network's odds speak too. */
export const withOdds = (prior: Float32Array, odds: Float32Array): Float32Array =>
  prior.map((value, i) => {
    const learned = Math.min(MOST_ODDS, Math.max(-MOST_ODDS, odds[i]));
    return LEARNED_WEIGHT * learned + BESIDE_LEARNED * value;
  });

/** What focus, borders and the middle say before any colour is known: above 0 rather subject. */
export function focusPrior(features: Float32Array, width: number, height: number): Float32Array {
  const prior = new Float32Array(width * height);
  const focus = Float32Array.from({ length: prior.length }, (_, i) => features[FEATURES * i + 3]);
  const middle = weightedMiddle(focus, width, height);
  const enclosed = enclosedBy(features, focus, middle.level, width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const off = Math.hypot((x - middle.x) / width, (y - middle.y) / height);
      const border = Math.min(x, y, width - 1 - x) / (0.04 * width);
      prior[i] =
        focus[i] -
        middle.level -
        1.2 * Math.max(0, off - 0.2) * 4 -
        Math.max(0, 1 - border) +
        ENCLOSED_WEIGHT * (Math.min(1, enclosed[i] / ENCLOSED_FULL) * 2 - 1);
    }
  }
  return prior;
}

/** How much lies between a sample and the borders, but for the lower one, on which subjects stand. */
function enclosedBy(features: Float32Array, focus: Float32Array, level: number, width: number, height: number) {
  const seeds = new Uint8Array(width * height);
  const seed = (i: number) => {
    if (focus[i] < level) seeds[i] = 1;
  };
  for (let x = 0; x < width; x++) seed(x);
  for (let y = 0; y < height; y++) {
    seed(y * width);
    seed(y * width + width - 1);
  }
  return geodesicDistance(features, FEATURES, width, seeds, 4);
}

/** Where most focus lies, and the level that parts what is in focus from what is not (Otsu 1979). */
function weightedMiddle(focus: Float32Array, width: number, height: number) {
  let [sum, sx, sy] = [0, 0, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const central = Math.exp(-(((x / width - 0.5) / 0.35) ** 2) - ((y / height - 0.5) / 0.35) ** 2);
      const weight = Math.max(0, focus[y * width + x]) ** 2 * central;
      sum += weight;
      sx += weight * x;
      sy += weight * y;
    }
  }
  return {
    x: sum > 0 ? sx / sum : width / 2,
    y: sum > 0 ? sy / sum : height / 2,
    level: LEVEL_SHARE * otsu(focus),
  };
}

function otsu(values: Float32Array): number {
  const BINS = 64;
  const most = values.reduce((a, b) => Math.max(a, b), 1e-6);
  const counts = new Float64Array(BINS);
  for (const value of values) counts[Math.min(BINS - 1, Math.max(0, Math.floor((BINS * value) / most)))]++;
  const total = values.length;
  const mean = counts.reduce((sum, count, i) => sum + count * i, 0) / total;
  let [best, at, below, moment] = [-1, 0, 0, 0];
  for (let i = 0; i < BINS - 1; i++) {
    below += counts[i] / total;
    moment += (counts[i] * i) / total;
    const between = (mean * below - moment) ** 2 / Math.max(1e-9, below * (1 - below));
    if (between > best) [best, at] = [between, i];
  }
  return ((at + 1) * most) / BINS;
}
