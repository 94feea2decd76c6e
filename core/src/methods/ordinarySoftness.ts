import { FWHM_PER_SIGMA, gaussianPsf } from '../psf/gaussianPsf';
import type { BlurMethodDescription } from './method';
import { COMMON_SETTINGS } from './settings';

export const ordinarySoftness: BlurMethodDescription = {
  name: 'Ordinary softness',
  help: 'For the slight softness of lens and sensor. Blur size is the full width at half maximum.',
  sizeWords: () => ' wide',
  settings: COMMON_SETTINGS,
  shapes: [],
  usualSizePx: 2,
  haloLimitPercent: () => 150,
  followsPath: false,
  psf: ({ blurSizePx }) => gaussianPsf(blurSizePx / FWHM_PER_SIGMA),
  reachPerPx: 4,
};
