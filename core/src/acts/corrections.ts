import {
  changesLight,
  CORRECTIONS,
  CURVE_GAP,
  MOST_CURVE_POINTS,
  movesPixels,
  neutralCorrections,
  type CorrectionKey,
  type Corrections,
  type CurvePoint,
} from '../prescription/corrections';
import type { Prescription } from '../prescription/prescription';

/** Corrections changed by an act; where none is left they are left out. */
export function withCorrections(old: Prescription, act: (corrections: Corrections) => Corrections): Prescription {
  const corrections = act(old.corrections ?? neutralCorrections());
  const { corrections: _, ...rest } = old;
  // A point that still lies on the straight curve changes nothing yet, and is about to be moved.
  const isThere = changesLight(corrections) || movesPixels(corrections) || corrections.curve.length > 2;
  return isThere ? { ...rest, corrections } : rest;
}

/** Light as it was found by itself; colour and lens stay. */
export const withAutomaticLight = (old: Prescription, found: Corrections): Prescription =>
  withCorrections(old, ({ whiteBalance, fallOffPercent, distortionPercent, redFringePercent, blueFringePercent }) => ({
    ...found,
    whiteBalance,
    fallOffPercent,
    distortionPercent,
    redFringePercent,
    blueFringePercent,
  }));

/** A number set by hand, held within its range; black stays below white. */
export function withCorrection(old: Prescription, key: CorrectionKey, value: number): Prescription {
  const { least, most } = CORRECTIONS[key];
  return withCorrections(old, (corrections) => {
    let kept = Math.max(least, Math.min(most, value));
    if (key === 'blackPercent') kept = Math.min(kept, corrections.whitePercent.value - LEAST_RANGE);
    if (key === 'whitePercent') kept = Math.max(kept, corrections.blackPercent.value + LEAST_RANGE);
    return { ...corrections, [key]: { value: kept, auto: false } };
  });
}

/** White lies at least so far above black, %. */
const LEAST_RANGE = 5;

export const takenAsIs = (old: Prescription, key: CorrectionKey): Prescription =>
  withCorrection(old, key, CORRECTIONS[key].neutral);

const STRAIGHT: readonly CurvePoint[] = [
  { x: 0, y: 0 },
  { x: 1, y: 1 },
];

/** The curve's points; a straight one has its two ends. */
export const curveOf = ({ curve }: Pick<Corrections, 'curve'>): readonly CurvePoint[] =>
  curve.length >= 2 ? curve : STRAIGHT;

const withCurve = (old: Prescription, act: (points: readonly CurvePoint[]) => readonly CurvePoint[]): Prescription =>
  withCorrections(old, (corrections) => {
    const curve = act(curveOf(corrections));
    return { ...corrections, curve: curve.some(({ x, y }) => x !== y) || curve.length > 2 ? curve : [] };
  });

/** A new point; where one lies too near, or there are too many, nothing changes. */
export function addCurvePoint(old: Prescription, point: CurvePoint): Prescription {
  return withCurve(old, (points) => {
    const isFree = points.every(({ x }) => Math.abs(x - point.x) >= CURVE_GAP);
    if (!isFree || points.length >= MOST_CURVE_POINTS) return points;
    return [...points, point].sort((p, q) => p.x - q.x);
  });
}

/** Moves a point; it stays between its neighbours, the ends stay at black and white. */
export function moveCurvePoint(old: Prescription, index: number, { x, y }: CurvePoint): Prescription {
  return withCurve(old, (points) => {
    const isEnd = index === 0 || index === points.length - 1;
    const least = isEnd ? points[index].x : points[index - 1].x + CURVE_GAP;
    const most = isEnd ? points[index].x : points[index + 1].x - CURVE_GAP;
    const moved = { x: Math.max(least, Math.min(most, x)), y: Math.max(0, Math.min(1, y)) };
    return points.map((point, i) => (i === index ? moved : point));
  });
}

/** The ends cannot be removed. */
export const removeCurvePoint = (old: Prescription, index: number): Prescription =>
  withCurve(old, (points) =>
    index === 0 || index === points.length - 1 ? points : points.filter((_, i) => i !== index),
  );
