import { lumaNoiseLine } from '../noise/noise';
import { product } from '../picture/arithmetic';
import { keptOpponent } from '../picture/opponentColours';
import type { Plane } from '../picture/plane';
import { reachOf, type Psf } from '../psf/psf';
import type { Evidence } from '../solve/splitting';
import { shareToClean } from './cleanedFirst';
import { keptLuma } from './keptLuma';
import { flooredAtRounding, quietness } from './noiseGuard';
import { padded, paddedFlags, paddedSize, withGap } from './padding';
import type { RecoverySettings, RecoveryInput } from './recovery';
import { trustOf } from './trust';

/** Opponent colours may be believed at most this many times as much as brightness. */
const MOST_TRUST = 4;
/** Share of the white noise that cleaning takes, as the prior should count it. */
const CLEANED_SHARE = 0.65;

/** Brightness and the opponent colours, each believed by its own noise, and the variances that count as noise. */
export function evidenceOf(
  input: RecoveryInput,
  believed: Plane,
  settings: RecoverySettings,
  psf: Psf,
  started: (plane: Plane) => Plane,
): { evidence: Evidence; variances: readonly number[] } {
  const { noise } = settings;
  const raw = keptOpponent(input.channels);
  const floors = flooredAtRounding(settings.noiseFloor);
  const quiet = quietness(floors[0]);
  const white = shareToClean(settings);
  const components = white > 0 && input.clean ? keptOpponent(input.clean) : raw;
  const variances = floors.map((floor) => floor * (1 - CLEANED_SHARE * white));
  const gap = Math.ceil(2 * reachOf(psf));
  const room = paddedSize(components[0], gap);
  const trust = trustOf(raw[0], floors[0], keptLuma(input), lumaNoiseLine(noise, input.lumaWeights), 1 - quiet);
  const weight = withGap(padded(product(trust, believed), room, false), raw[0], gap);
  const clipped = input.clipped.includes(1) ? paddedFlags(input.clipped, raw[0], room) : null;
  /** White is a bound from below only for brightness; an opponent colour of a clipped sample says nothing. */
  const shareOf = (c: number) => Math.min(MOST_TRUST, floors[0] / floors[c]);
  const weightOf = (c: number) => {
    if (c === 0) return weight;
    const share = shareOf(c);
    const data = new Float32Array(weight.data.length);
    for (let i = 0; i < data.length; i++) data[i] = share * weight.data[i];
    if (clipped) for (let i = 0; i < data.length; i++) if (clipped[i] === 1) data[i] = 0;
    return { ...weight, data };
  };
  const weights: Plane[] = [];
  for (let c = 0; c < components.length; c++) {
    weights.push(c === 2 && shareOf(2) === shareOf(1) ? weights[1] : weightOf(c));
  }
  const evidence = {
    blurred: components.map((plane) => padded(started(plane), room, true)),
    weight: weights,
    clipped: components.map((_, c) => (c === 0 ? clipped : null)),
  };
  return { evidence, variances };
}

/** The evidence of the first components alone. */
export function firstOf({ blurred, weight, clipped }: Evidence, count: number): Evidence {
  const few = <T>(parts: readonly T[]) => parts.slice(0, count);
  return { blurred: few(blurred), weight: few(weight), clipped: clipped && few(clipped) };
}
