import { gaussianBlur } from '../picture/gaussianBlur';
import type { Plane } from '../picture/plane';
import { fallOffGain, middleOf } from './fallOff';

const SMOOTH_SIGMA_PX = 2;
/** Light outside of this tells of noise or is clipped. */
const DARKEST = 0.004;
const LIGHTEST = 0.95;
/** Rings, as shares of the way to the corner: nearer to the middle next to nothing is lost. */
const RING = { from: 0.3, to: 1 };
const INNER = { from: 0.3, to: 0.65 };
const OUTER = { from: 0.65, to: 1 };
const SECTORS = 12;
/** A sector with less than this share of its places in use says nothing; so many with their opposites must. */
const LEAST_USED = 0.2;
const LEAST_PAIRS = 4;
/** More no lens in use loses: the scene is darker there. */
const MOST_PERCENT = 50;
const STEP_PERCENT = 1;
/** Slopes that differ by more than this many times the usual are edges: all count alike. */
const EDGE_TIMES = 1.5;
/** What the middle half of the pairs may differ by, and a share of what was found: percent. */
const MOST_SPREAD = 8;
const MOST_SPREAD_SHARE = 0.25;
/** Less is not told from the light of the scene. */
const LEAST_PERCENT = 6;

/**
 * By how many percent the corners are darker than the middle because of the lens: the fall-off that leaves the usual
 * slope of light, outwards from the middle, nothing to explain. Light that the scene itself lets rise to one side falls
 * on the other, so a sector is taken together with its opposite; where the pairs do not agree, or opposites differ
 * otherwise than by a slope, or it is not as a lens does it further out as well (a lamp), nothing is said.
 *
 * @param luma - Linear light, the whole frame, some 600 to 1200 px long.
 * @returns Percent lost in the corner; 0 for hardly any; null where the picture does not tell.
 * Source: Zheng, Lin, Kang, "Single-image vignetting correction using radial gradient symmetry", CVPR 2008, for what is
 * asked; the robust fit by sectors is our own.
 */
export function measureFallOff(luma: Plane): number | null {
  const whole = foundIn(luma, RING);
  const [inner, outer] = [INNER, OUTER].map((ring) => foundIn(luma, ring));
  if (!whole || !inner || !outer) return null;
  const { percent } = whole;
  const spread = Math.max(whole.spread, Math.abs(inner.percent - outer.percent) / 2);
  if (spread > Math.max(MOST_SPREAD, MOST_SPREAD_SHARE * Math.abs(percent))) return null;
  if (percent >= MOST_PERCENT) return null;
  return percent < LEAST_PERCENT ? 0 : percent;
}

/** What the pairs of sectors say in the middle, and how far they differ; null where too few say anything. */
function foundIn(luma: Plane, ring: typeof RING): { readonly percent: number; readonly spread: number } | null {
  const pairs = pairsOf(slopesBySector(luma, ring).map((slopes) => slopes && bestFallOff(slopes)));
  if (pairs.length < LEAST_PAIRS) return null;
  const means = pairs.map(({ own, other }) => (own + other) / 2).sort((a, b) => a - b);
  const at = (share: number) => means[Math.round(share * (means.length - 1))];
  return { percent: at(0.5), spread: Math.max(at(0.75) - at(0.25), offSlope(pairs)) };
}

interface Pair {
  readonly own: number;
  readonly other: number;
  /** Of the first of the two. */
  readonly angle: number;
}

function pairsOf(sectors: readonly (number | null)[]): Pair[] {
  const half = SECTORS / 2;
  return sectors.slice(0, half).flatMap((own, i) => {
    const other = sectors[i + half];
    return own === null || other === null ? [] : [{ own, other, angle: ((i + 0.5) / half) * Math.PI }];
  });
}

/** How far opposites differ otherwise than light that rises to one side makes them (a cosine), root mean square. */
function offSlope(pairs: readonly Pair[]): number {
  const sum = (of: (pair: Pair) => number) => pairs.reduce((total, pair) => total + of(pair), 0);
  const apart = ({ own, other }: Pair) => (own - other) / 2;
  const [cc, ss, cs] = [
    sum(({ angle }) => Math.cos(angle) ** 2),
    sum(({ angle }) => Math.sin(angle) ** 2),
    sum(({ angle }) => Math.cos(angle) * Math.sin(angle)),
  ];
  const [c, s] = [sum((pair) => Math.cos(pair.angle) * apart(pair)), sum((pair) => Math.sin(pair.angle) * apart(pair))];
  const det = cc * ss - cs * cs;
  const [a, b] = [(c * ss - s * cs) / det, (s * cc - c * cs) / det];
  return Math.sqrt(
    sum((pair) => (apart(pair) - a * Math.cos(pair.angle) - b * Math.sin(pair.angle)) ** 2) / pairs.length,
  );
}

/**
 * Slopes of ln light outwards, and where they were found (squared distance, of the corner's), with what a px is of it.
 */
interface Slopes {
  readonly slope: readonly number[];
  readonly squared: readonly number[];
  readonly radius: readonly number[];
  readonly corner: number;
}

/** Null where too little of a sector shows. */
function slopesBySector(luma: Plane, { from, to }: typeof RING): (Slopes | null)[] {
  const smooth = gaussianBlur(luma, SMOOTH_SIGMA_PX);
  const { width, height } = luma;
  const { x: mx, y: my, corner } = middleOf(luma);
  const sectors = Array.from({ length: SECTORS }, () => ({
    slope: [] as number[],
    squared: [] as number[],
    radius: [] as number[],
    corner,
    all: 0,
  }));
  const lnAt = (i: number) => Math.log(smooth.data[i]);
  const shows = (i: number) => smooth.data[i] > DARKEST && luma.data[i] < LIGHTEST;
  for (let y = 1; y < height - 1; y += 2) {
    for (let x = 1; x < width - 1; x += 2) {
      const [u, v] = [x - mx, y - my];
      const radius = Math.hypot(u, v);
      const squared = (u * u + v * v) / corner;
      if (squared < from ** 2 || squared > to ** 2) continue;
      const sector = sectors[Math.floor(((Math.atan2(v, u) / Math.PI + 1) / 2) * SECTORS) % SECTORS];
      sector.all++;
      const i = y * width + x;
      if (![i, i - 1, i + 1, i - width, i + width].every(shows)) continue;
      const across = (lnAt(i + 1) - lnAt(i - 1)) / 2;
      const down = (lnAt(i + width) - lnAt(i - width)) / 2;
      sector.slope.push((across * u + down * v) / radius);
      sector.squared.push(squared);
      sector.radius.push(radius);
    }
  }
  return sectors.map((sector) => (sector.slope.length > LEAST_USED * sector.all ? sector : null));
}

/** The fall-off whose own slopes lie least far from those seen, percent. */
function bestFallOff({ slope, squared, radius, corner }: Slopes): number {
  const usual = medianOf(slope.map(Math.abs));
  const limit = (EDGE_TIMES * usual) ** 2;
  let best = { percent: 0, cost: Infinity };
  for (let percent = -MOST_PERCENT; percent <= MOST_PERCENT; percent += STEP_PERCENT) {
    const perPx = slopeOfLoss(percent, corner);
    let cost = 0;
    for (let i = 0; i < slope.length; i++) {
      const off = slope[i] + perPx(squared[i], radius[i]);
      cost += Math.min(limit, off * off);
    }
    if (cost < best.cost) best = { percent, cost };
  }
  return best.percent;
}

/** d ln(gain) / dr, px⁻¹; below 0 percent the corners are brighter, as only a scene makes them. */
function slopeOfLoss(percent: number, corner: number) {
  const tangent = Math.sqrt(fallOffGain(percent)(1)) - 1;
  return (squared: number, radius: number) => (4 * tangent * radius) / corner / (1 + tangent * squared);
}

function medianOf(values: readonly number[]): number {
  return Float64Array.from(values).sort()[values.length >> 1];
}
