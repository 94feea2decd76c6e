import { minus } from '../picture/arithmetic';
import { gaussianBlur } from '../picture/gaussianBlur';
import type { Plane } from '../picture/plane';
import type { RecoverySettings, RecoveryInput } from './recovery';

/** Adds back a share of (original − cleaned original), high-passed at σ = half the blur size. */
export function keepGrain(recovered: Plane[], input: RecoveryInput, settings: RecoverySettings): Plane[] {
  const share = settings.grainKeptPercent / 100;
  return recovered.map((plane, c) => {
    const grain = minus(input.channels[c], input.clean![c]);
    const coarse = gaussianBlur(grain, Math.max(0.5, settings.blurSizePx / 2));
    return { ...plane, data: plane.data.map((value, i) => value + share * (grain.data[i] - coarse.data[i])) };
  });
}
