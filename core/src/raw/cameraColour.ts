import { CoreError } from '../errors';
import { adaptation } from '../correct/adaptation';
import type { Chromaticity } from '../correct/daylight';
import { inverse3, multiply3 } from '../picture/colourSpace';

/** What a camera's colours were found to be under one light; matrices row by row. */
export interface Calibration {
  readonly kelvin: number;
  /** XYZ to the camera's red, green and blue. */
  readonly colorMatrix: readonly number[];
  /** This camera against the model's. */
  readonly cameraCalibration?: readonly number[];
  /** Balanced camera colours to XYZ under D50. */
  readonly forwardMatrix?: readonly number[];
}

export interface CameraColour {
  /** One, or two under unlike lights. */
  readonly calibrations: readonly Calibration[];
  readonly analogBalance?: readonly number[];
  /** What the camera sees of a neutral in the light of the shot. */
  readonly white: { readonly neutral: readonly number[] } | { readonly xy: Chromaticity };
}

export interface BalancedColour {
  /** What the camera sees of a neutral, its greatest 1: dividing by it balances the channels. */
  readonly neutral: readonly number[];
  /** Balanced channels to XYZ under D50, row by row; (1, 1, 1) has Y = 1. */
  readonly toXyzD50: readonly number[];
}

export const D50: Chromaticity = { x: 0.3457, y: 0.3585 };
const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const diagonal = ([a, b, c]: readonly number[]) => [a, 0, 0, 0, b, 0, 0, 0, c];
const applied = (m: readonly number[], v: readonly number[]) =>
  [0, 1, 2].map((row) => m[3 * row] * v[0] + m[3 * row + 1] * v[1] + m[3 * row + 2] * v[2]);

/** Correlated colour temperature, K. Source: McCamy, Color Research & Application 17 (1992). */
export function kelvinOf({ x, y }: Chromaticity): number {
  const n = (x - 0.332) / (0.1858 - y);
  return 449 * n ** 3 + 3525 * n ** 2 + 6823.3 * n + 5520.33;
}

/** Between two lights by the inverse of their temperatures, beyond them the nearer one. */
function calibrationAt({ calibrations: [first, second] }: CameraColour, kelvin: number): Calibration {
  if (!second) return first;
  const share = (1 / kelvin - 1 / first.kelvin) / (1 / second.kelvin - 1 / first.kelvin);
  const t = Math.min(1, Math.max(0, share));
  const mixed = (a: readonly number[], b: readonly number[]) => a.map((value, i) => value + t * (b[i] - value));
  const { forwardMatrix } = first;
  return {
    kelvin,
    colorMatrix: mixed(first.colorMatrix, second.colorMatrix),
    cameraCalibration: mixed(first.cameraCalibration ?? IDENTITY, second.cameraCalibration ?? IDENTITY),
    forwardMatrix:
      forwardMatrix && second.forwardMatrix
        ? mixed(forwardMatrix, second.forwardMatrix)
        : (forwardMatrix ?? second.forwardMatrix),
  };
}

const MOST_ROUNDS = 30;

/**
 * The balance of the shot, and what its colours are.
 * Source: the open DNG specification (1.4.0.0, chapter 6, "Mapping camera color space to CIE XYZ space").
 *
 * @throws CoreError RAW_COLOURS where the matrices or the neutral make no sense.
 */
export function balancedColour(colour: CameraColour): BalancedColour {
  const { white, analogBalance = [1, 1, 1] } = colour;
  const matricesAt = (at: Chromaticity) => {
    const calibration = calibrationAt(colour, kelvinOf(at));
    const own = multiply3(diagonal(analogBalance), calibration.cameraCalibration ?? IDENTITY);
    return { own, toCamera: multiply3(own, calibration.colorMatrix), forward: calibration.forwardMatrix };
  };
  const light = 'xy' in white ? white.xy : lightOfNeutral(white.neutral, (at) => matricesAt(at).toCamera);
  const { own, toCamera, forward } = matricesAt(light);
  const seen = 'neutral' in white ? white.neutral : applied(toCamera, xyzOf(light));
  const most = Math.max(...seen);
  const neutral = seen.map((value) => value / most);
  if (!neutral.every((value) => value > 0.01)) throw unusable('what it saw of a neutral is black in a channel');
  const toXyz = forward
    ? multiply3(forward, multiply3(diagonal(applied(inverse(own), neutral).map((value) => 1 / value)), inverse(own)))
    : multiply3(adaptation(light, D50), inverse(toCamera));
  const balanced = multiply3(toXyz, diagonal(neutral));
  const y = balanced[3] + balanced[4] + balanced[5];
  if (!(y > 0) || !balanced.every(Number.isFinite)) throw unusable('white comes out black');
  return { neutral, toXyzD50: balanced.map((value) => value / y) };
}

const xyzOf = ({ x, y }: Chromaticity) => [x / y, 1, (1 - x - y) / y];

/** The matrix hangs on the light and the light on the matrix: found in rounds. */
function lightOfNeutral(neutral: readonly number[], toCamera: (at: Chromaticity) => readonly number[]): Chromaticity {
  let at = D50;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const [x, y, z] = applied(inverse(toCamera(at)), neutral);
    const sum = x + y + z;
    const found = { x: x / sum, y: y / sum };
    if (!(found.x > 0.05 && found.x < 0.8 && found.y > 0.05 && found.y < 0.8)) {
      throw unusable('no light makes what it saw of a neutral');
    }
    const moved = Math.abs(found.x - at.x) + Math.abs(found.y - at.y);
    at = found;
    if (moved < 1e-7) break;
  }
  return at;
}

function inverse(m: readonly number[]): readonly number[] {
  try {
    return inverse3(m);
  } catch {
    throw unusable('one of its matrices cannot be turned round');
  }
}

const unusable = (why: string) =>
  new CoreError('RAW_COLOURS', `What the raw file says of the camera’s colours cannot be used: ${why}.`);
