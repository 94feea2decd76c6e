import { astigmaticPsf } from '../psf/astigmaticPsf';
import { bladedPsf } from '../psf/bladedPsf';
import { discPsf } from '../psf/discPsf';
import type { BlurMethodDescription } from './method';
import { COMMON_SETTINGS } from './settings';

export const missedFocus: BlurMethodDescription = {
  name: 'Missed focus',
  help: 'For a subject out of focus. Blur size is the diameter of the circle a point of light became.',
  sizeWords: () => ' across',
  settings: COMMON_SETTINGS,
  shapes: ['blades', 'bladesDeg', 'squeezePercent', 'squeezeDeg'],
  usualSizePx: 4,
  // Wide where one size holds, narrow where it varies by place.
  haloLimitPercent: (blurVaries) => (blurVaries ? 5 : 150),
  followsPath: false,
  psf({ blurSizePx, blades, bladesDeg = 0, squeezePercent = 0, squeezeDeg = 0 }) {
    if (blades) return bladedPsf(blurSizePx / 2, blades, bladesDeg);
    return squeezePercent > 0 ? astigmaticPsf(blurSizePx / 2, squeezePercent, squeezeDeg) : discPsf(blurSizePx / 2);
  },
  reachPerPx: 12,
};
