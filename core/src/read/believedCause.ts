import type { Kernels } from '../kernels';
import { lumaNoiseLine, type NoiseLine } from '../noise/noise';
import type { Plane } from '../picture/plane';
import { storePath, type StoredPath } from '../psf/storedPath';
import { roughShake } from '../shake/roughShake';
import { pathError, readShake, type ShakeFit } from '../shake/readShake';
import { JPEG_HIGHEST, type CauseOfBlur } from '../spectrum/cause';
import { blurSizeOf, type CauseFit } from '../spectrum/fitCause';
import type { CauseReading, LeftAlone, PlaceReading } from './causeReading';
import { confidenceOfChoice, confidenceOfLead, confidenceOfRatio } from './confidence';
import { localSizes } from './localSizes';
import { weighCauses, type WeighedCause } from './weighCauses';

/** The cause of blur as it is believed, and what recovery must know of it. */
export interface BelievedCause {
  /** Null: nothing to recover by itself. */
  readonly cause: CauseReading | null;
  readonly runnerUp: CauseReading | null;
  readonly leftAlone: LeftAlone | null;
  readonly places: readonly PlaceReading[];
  /** Variance found under the blurred detail. */
  readonly floor: number;
  /** Variance that an estimated path's error acts like; 0 without one. */
  readonly pathError: number;
  readonly confidence: number;
}

interface Measured {
  readonly use: Plane;
  readonly clipped: Uint8Array;
  readonly lumaWeights: readonly number[];
  readonly isSubject?: boolean;
  readonly kernels: Kernels;
}

/** Where a family explains the spectrum this well no path can do clearly better. */
const WORTH_A_PATH = 0.06;
/** Where depth makes a missed focus vary, one family explains the whole badly and a path beats it by 0.77 and 0.88. */
const VARYING_SHAKE_RATIO = 0.6;
/**
 * What a path that turned must cost beside the best family: 0.27 to 0.82 where the camera shook, 0.93 and more
 * elsewhere.
 */
const TURNED_SHAKE_RATIO = 0.87;
/** dB that must be expected of a recovery, or the frame is left alone. */
const LEAST_GAIN = 0.3;
/** A recovery that is expected to cost more than this plainly does harm. */
const PLAIN_HARM = -0.5;

/**
 * What is to be believed of the causes that explain the spectrum: each is tried, and none is named that would not bring
 * the picture nearer to the truth.
 */
export function believedCause(
  found: CauseOfBlur,
  luma: Plane,
  measured: Measured,
  noise: readonly NoiseLine[],
  variance: number,
  hidesFloor: boolean,
  isSoft: boolean,
): BelievedCause {
  const { use, clipped, kernels } = measured;
  const isExplained = found.merged.best.cost < WORTH_A_PATH;
  const shake = isExplained ? null : readShake(luma, use, clipped, found.merged, kernels);
  const varies = found.best?.cause === 'missed-focus' && found.sizes.length > 0;
  // A sharp nose before soft eyes: no one size explains both, and the sharpest speaks loudest.
  const isUntold = isSoft && found.best === null;
  if (measured.isSubject && (varies || isUntold) && !(shake && shake.rivalRatio < VARYING_SHAKE_RATIO)) {
    const places = focusByPlace(luma, measured, noise, hidesFloor);
    if (places.length > 0 && (varies || isMostlySoft(places))) return varyingFocus(found, places);
  }
  if (shake?.hasTurned && shake.rivalRatio < TURNED_SHAKE_RATIO) return turnedShake(found, shake);
  const line = lumaNoiseLine(noise, measured.lumaWeights);
  const weighed = weighCauses(found, shake, luma, use, clipped, variance, line, kernels);
  return weighed.length > 0 ? chosenCause(found, shake, weighed, isSoft) : roughCause(found, isSoft);
}

/** To sort a frame: as the spectrum alone has it, and whether its coarsest part asks for a path. */
export function sortedCause(found: CauseOfBlur, isSoft: boolean, kernels: Kernels): BelievedCause {
  const rough = roughCause(found, isSoft);
  // A straight path and a bent one look alike at so coarse a look: the simpler is said.
  const path = rough.cause?.method === 'straight-movement' ? null : roughShake(found, kernels);
  if (!path) return rough;
  return {
    ...rough,
    cause: { method: 'camera-shake', blurSizePx: path.lengthPx, directionDeg: 0, path },
    runnerUp: rough.cause ?? rough.runnerUp,
    leftAlone: null,
    floor: found.sharpFloor,
    confidence: MOST_UNTOLD,
  };
}

/** As the spectrum alone has it, and where no place is large enough to try a cause at. */
export function roughCause(found: CauseOfBlur, isSoft: boolean): BelievedCause {
  const { best, runnerUp } = found;
  return {
    cause: best && familyReading(best),
    runnerUp: runnerUp && familyReading(runnerUp),
    leftAlone: best ? null : isSoft ? 'untold' : 'sharp',
    places: [],
    floor: best?.floor ?? found.sharpFloor,
    pathError: 0,
    confidence: Math.min(confidenceOfLead(found), !best && isSoft ? MOST_UNTOLD : 1),
  };
}

function varyingFocus(found: CauseOfBlur, places: readonly PlaceReading[]): BelievedCause {
  const focus = found.families.find(({ cause }) => cause === 'missed-focus')!;
  const best = { ...focus, size: medianSize(places) / 2 };
  const rough = roughCause({ ...found, best }, true);
  const confidence = found.best ? rough.confidence : Math.min(rough.confidence, MOST_UNTOLD);
  return { ...rough, confidence, places, floor: focus.floor };
}

/** A picture that is plainly soft for a reason that no family explains is never surer than this. */
const MOST_UNTOLD = 0.5;
/** Sharp surfaces without fine texture read as 4 px and less in a quarter of their places. */
const SOFT_QUARTER_PX = 4.5;

function isMostlySoft(places: readonly PlaceReading[]): boolean {
  const sorted = places.map(({ blurSizePx }) => blurSizePx).sort((a, b) => a - b);
  return sorted[sorted.length >> 2] >= SOFT_QUARTER_PX;
}

function turnedShake(found: CauseOfBlur, shake: ShakeFit): BelievedCause {
  return {
    cause: shakeReading(shake),
    runnerUp: familyReading(found.families[0]),
    leftAlone: null,
    places: [],
    floor: shake.floor,
    pathError: pathError(shake),
    confidence: confidenceOfRatio(shake.rivalRatio),
  };
}

function chosenCause(
  found: CauseOfBlur,
  shake: ShakeFit | null,
  candidates: readonly WeighedCause[],
  isSoft: boolean,
): BelievedCause {
  // Of a picture that is soft beyond doubt what the spectrum names is as good as plain.
  const weighed = candidates.map((candidate) =>
    isSoft && found.best && candidate.fit?.cause === found.best.cause ? { ...candidate, isPlain: true } : candidate,
  );
  const first = firstOf(weighed);
  const others = weighed.filter((other) => methodOf(other) !== methodOf(first));
  const reading = (weighedCause: WeighedCause | undefined) =>
    weighedCause ? (weighedCause.fit ? familyReading(weighedCause.fit) : shakeReading(shake!)) : null;
  const isWorthIt = isBelieved(first) && !isTiny(first);
  const confidence = confidenceOfChoice(first.expectedGain, others[0]?.expectedGain ?? -Infinity, LEAST_GAIN);
  if (!isWorthIt) {
    const doubt = first.expectedGain < PLAIN_HARM ? 'would-harm' : 'gains-little';
    return {
      cause: null,
      runnerUp: reading(first),
      leftAlone: found.best ? doubt : isSoft ? 'untold' : 'sharp',
      places: [],
      floor: found.sharpFloor,
      pathError: 0,
      confidence: isSoft ? Math.min(confidence, MOST_UNTOLD) : confidence,
    };
  }
  return {
    cause: reading(first),
    runnerUp: reading(others[0]),
    leftAlone: null,
    places: [],
    floor: first.floor,
    pathError: first.fit ? 0 : pathError(shake!),
    confidence,
  };
}

const methodOf = ({ fit }: WeighedCause): CauseReading['method'] => fit?.cause ?? 'camera-shake';

/** Less is what pixel and lens do anyway. */
const LEAST_BLUR_PX = 1.1;
/**
 * Frames are stranger than generated cases: where the spectrum is beyond doubt so much is taken off what must be
 * expected, dB.
 */
const PLAIN_LENIENCE = 1;

const isBelieved = ({ expectedGain, isPlain }: WeighedCause) =>
  expectedGain >= LEAST_GAIN - (isPlain ? PLAIN_LENIENCE : 0);

function firstOf(weighed: readonly WeighedCause[]): WeighedCause {
  const [best] = weighed;
  if (best.expectedGain >= LEAST_GAIN && !isTiny(best)) return softnessOnTie(weighed);
  return weighed.find((other) => other.isPlain && isBelieved(other) && !isTiny(other)) ?? best;
}

const isTiny = ({ fit }: WeighedCause) => fit !== null && blurSizeOf(fit) < LEAST_BLUR_PX;

/** Where softness and a missed focus would do nearly the same, ordinary softness is said: it claims less. */
const NEARLY_THE_SAME_DB = 0.1;

function softnessOnTie(weighed: readonly WeighedCause[]): WeighedCause {
  const [first] = weighed;
  if (methodOf(first) !== 'missed-focus') return first;
  const soft = weighed.find((other) => methodOf(other) === 'ordinary-softness');
  return soft && soft.expectedGain > first.expectedGain - NEARLY_THE_SAME_DB ? soft : first;
}

function shakeReading({ path: main, places }: ShakeFit): CauseReading {
  const placed = places().map(({ x, y, path: own }) => ({ x: Math.round(x), y: Math.round(y), ...storePath(own) }));
  const path: StoredPath = { ...storePath(main), ...(placed.length > 1 ? { places: placed } : {}) };
  return { method: 'camera-shake', blurSizePx: path.lengthPx, directionDeg: 0, path };
}

function familyReading(fit: CauseFit): CauseReading {
  return {
    method: fit.cause,
    blurSizePx: blurSizeOf(fit),
    directionDeg: fit.cause === 'straight-movement' ? fit.directionDeg : 0,
  };
}

/** Variance that rough surfaces show beside noise, at the frequencies which tell a size. Measured on 0412 and 0413. */
const ROUGHNESS = 2e-5;

/** Sizes that differ by less than this from place to place are one size. */
const VARYING_RATIO = 1.4;

/** The size of a missed focus at every place, where it clearly changes over the subject; else empty. */
function focusByPlace(
  luma: Plane,
  { use, clipped, lumaWeights }: Measured,
  noise: readonly NoiseLine[],
  hidesFloor: boolean,
): PlaceReading[] {
  const { a, b } = lumaNoiseLine(noise, lumaWeights);
  const rough = { a, b: b + ROUGHNESS };
  const sizes = localSizes(luma, use, clipped, rough, hidesFloor ? JPEG_HIGHEST : 0.5);
  const sorted = sizes.map(({ sizePx }) => sizePx).sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.floor(share * (sorted.length - 1))];
  if (sorted.length < 4 || at(0.9) < VARYING_RATIO * at(0.1)) return [];
  return sizes.map(({ x, y, sizePx }) => ({ x, y, blurSizePx: Math.round(sizePx * 10) / 10 }));
}

function medianSize(places: readonly PlaceReading[]): number {
  const sorted = places.map(({ blurSizePx }) => blurSizePx).sort((a, b) => a - b);
  return sorted[sorted.length >> 1];
}
