import { neighbourhoodRange } from '../picture/neighbourhoodRange';
import type { Plane } from '../picture/plane';
import type { RecoveryInput } from './recovery';

/** Farther inside of white than the blur reaches, the photograph says nothing but “white or more”. */
export function keepWhite(recovered: readonly Plane[], { channels, clipped }: RecoveryInput, reach: number): void {
  if (!clipped.includes(1)) return;
  const { low } = neighbourhoodRange({ ...channels[0], data: Float32Array.from(clipped) }, Math.ceil(reach));
  recovered.forEach(({ data }, c) => {
    for (let i = 0; i < data.length; i++) {
      if (low.data[i] === 1) data[i] = Math.max(data[i], channels[c].data[i]);
    }
  });
}
