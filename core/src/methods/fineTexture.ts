import type { MethodDescription } from './method';
import { COMMON_SETTINGS } from './settings';

export const fineTexture: MethodDescription = {
  name: 'Fine texture',
  help: 'Strengthens hairs, scales and cloth and leaves edges alone. Undoes no blur. Blur size is the coarsest texture.',
  sizeWords: () => ' wide',
  settings: COMMON_SETTINGS,
  shapes: [],
  usualSizePx: 4,
  // It makes no halos by itself.
  haloLimitPercent: () => null,
  followsPath: false,
};
