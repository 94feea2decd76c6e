import { flatSquares } from '../audit/grainRise';
import { levelOf, LIMITS, verdictOf, type Verdict } from '../audit/limits';
import type { FrameGuide } from '../correct/guide';
import type { ColourSpace } from '../picture/colourSpace';
import { neighbourhoodRange } from '../picture/neighbourhoodRange';
import { lumaOf, type Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import { srgbEncode } from '../picture/toneCurve';
import type { NoiseLine } from '../noise/noise';
import { actingChanges, type Finishing } from '../prescription/finishing';
import { finishLook } from './finishLook';

/** A place that is judged: as it is before finishing, in linear light. */
export interface FinishedPlace {
  readonly region: Region;
  readonly planes: Channels;
}

/** A setting that strengthens edges or grain too far, and the last value at which it does not. */
export interface FinishingFault {
  /** The local change it belongs to; null: the whole picture. */
  readonly localId: string | null;
  readonly key: 'localContrast' | 'haze';
  readonly what: 'halo' | 'grain';
  readonly verdict: Verdict;
  readonly lastSafe: number;
}

const RIM_REACH = 3;
/** All but so many samples of a place: a single one is no rim. */
const RIM_SHARE = 0.995;
const GRAIN_SHARE = 0.9;
/** Fewer flat squares do not tell. */
const LEAST_SQUARES = 4;
const HALVINGS = 6;

interface Levels {
  readonly halo: number;
  readonly grain: number;
  readonly haloVerdict: Verdict;
  readonly grainVerdict: Verdict;
}

/**
 * Whether finishing undoes what the audit said of a recovery: at edges it is held against the range that was there
 * before, tones matched; in plain places its grain against the grain before.
 *
 * @param line - Noise of brightness by tone, of what is finished.
 */
export function judgeFinishing(
  places: readonly FinishedPlace[],
  finishing: Finishing,
  space: Pick<ColourSpace, 'lumaWeights' | 'toLinearSrgb'>,
  guide: FrameGuide,
  line: NoiseLine,
): FinishingFault[] {
  const levels = (tried: Finishing): Levels => {
    const each = places.map((place) => levelsAt(place, tried, space, guide, line));
    const worst = (pick: (one: { halo: number; grain: number }) => number) => Math.max(0, ...each.map(pick));
    const [halo, grain] = [worst((one) => one.halo), worst((one) => one.grain)];
    return {
      halo: levelOf(halo, LIMITS.rim),
      grain: levelOf(grain, LIMITS.grain),
      haloVerdict: verdictOf(halo, LIMITS.rim),
      grainVerdict: verdictOf(grain, LIMITS.grain),
    };
  };
  const now = levels(finishing);
  if (now.halo < 1 && now.grain < 1) return [];
  return controlsOf(finishing).flatMap(({ localId, key, value, withValue }) => {
    const without = levels(withValue(0));
    const what = now.halo >= now.grain ? 'halo' : 'grain';
    // Another setting's doing.
    if (without[what] > 0.95 * now[what]) return [];
    let [safe, far] = [0, value];
    for (let i = 0; i < HALVINGS; i++) {
      const middle = (safe + far) / 2;
      const tried = levels(withValue(middle));
      if (tried.halo < 1 && tried.grain < 1) safe = middle;
      else far = middle;
    }
    const verdict = what === 'halo' ? now.haloVerdict : now.grainVerdict;
    return [{ localId, key, what, verdict, lastSafe: Math.trunc(safe) }];
  });
}

/** The settings that can strengthen edges and grain. */
function controlsOf(finishing: Finishing) {
  const whole = (['localContrast', 'haze'] as const)
    .filter((key) => finishing[key] > 0)
    .map((key) => ({
      localId: null,
      key,
      value: finishing[key],
      withValue: (value: number): Finishing => ({ ...finishing, [key]: value }),
    }));
  const local = actingChanges(finishing)
    .filter(({ localContrast }) => localContrast > 0)
    .map(({ mask, localContrast }) => ({
      localId: mask.id,
      key: 'localContrast' as const,
      value: localContrast,
      withValue: (value: number): Finishing => ({
        ...finishing,
        localChanges: finishing.localChanges.map((one) =>
          one.mask.id === mask.id ? { ...one, localContrast: value } : one,
        ),
      }),
    }));
  return [...whole, ...local];
}

function levelsAt(
  { region, planes }: FinishedPlace,
  finishing: Finishing,
  space: Pick<ColourSpace, 'lumaWeights' | 'toLinearSrgb'>,
  guide: FrameGuide,
  line: NoiseLine,
): { halo: number; grain: number } {
  const after = finishLook(planes, finishing, space, { region, scale: 1 }, guide).planes;
  const before = encoded(lumaOf(planes, space.lumaWeights));
  const matched = matchedTo(before, encoded(lumaOf(after, space.lumaWeights)));
  const { low, high } = neighbourhoodRange(before, RIM_REACH);
  const beyond = matched.data.map((value, i) => 255 * Math.max(0, value - high.data[i], low.data[i] - value));
  const noise = noiseOf(planes, space.lumaWeights, line);
  const use = new Uint8Array(before.data.length).fill(1);
  const squares = flatSquares(before, matched, noise, use);
  const rises = squares.map((square) => Math.sqrt(square.after / square.before));
  return {
    halo: shareOf(beyond, RIM_SHARE),
    grain: rises.length >= LEAST_SQUARES ? shareOf(Float64Array.from(rises), GRAIN_SHARE) : 1,
  };
}

const encoded = (plane: Plane): Plane => ({
  ...plane,
  data: plane.data.map((value) => srgbEncode(Math.max(0, Math.min(1, value)))),
});

/** Brightness by one factor and one shift as near to what it was as can be: more contrast of the whole is no halo. */
function matchedTo(before: Plane, after: Plane): Plane {
  let [sumX, sumY, sumXX, sumXY] = [0, 0, 0, 0];
  const count = before.data.length;
  for (let i = 0; i < count; i++) {
    const [x, y] = [after.data[i], before.data[i]];
    sumX += x;
    sumY += y;
    sumXX += x * x;
    sumXY += x * y;
  }
  const spread = sumXX - (sumX * sumX) / count;
  const slope = spread > 1e-9 ? (sumXY - (sumX * sumY) / count) / spread : 1;
  const shift = (sumY - slope * sumX) / count;
  return { ...after, data: after.data.map((value) => slope * value + shift) };
}

/** Noise variance of the encoded brightness. */
function noiseOf(planes: Channels, lumaWeights: readonly number[], { a, b }: NoiseLine): Plane {
  const luma = lumaOf(planes, lumaWeights);
  const out = createPlane(luma.width, luma.height);
  for (let i = 0; i < out.data.length; i++) {
    const light = Math.max(1e-4, luma.data[i]);
    // The slope of the encoding carries the deviation over.
    const slope = (srgbEncode(light * 1.01) - srgbEncode(light)) / (light * 0.01);
    out.data[i] = slope * slope * (a * light + b);
  }
  return out;
}

function shareOf(values: Float32Array | Float64Array, share: number): number {
  const sorted = Float64Array.from(values).sort();
  return sorted.length > 0 ? sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] : 0;
}
