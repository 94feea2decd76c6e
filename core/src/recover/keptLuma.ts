import { keptWith } from '../picture/kept';
import { lumaOf } from '../picture/picture';
import type { Plane } from '../picture/plane';
import type { RecoveryInput } from './recovery';

export function keptLuma({ channels, lumaWeights }: RecoveryInput): Plane {
  return keptWith(channels[0], 'luma', () => lumaOf(channels, lumaWeights));
}
