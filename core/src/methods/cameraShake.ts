import { CoreError } from '../errors';
import { psfOfPath } from '../psf/storedPath';
import type { BlurMethodDescription } from './method';
import { COMMON_SETTINGS } from './settings';

export const cameraShake: BlurMethodDescription = {
  name: 'Camera shake',
  help: 'For a hand that wandered: follows the path found in the frame. Blur size is the length along it.',
  sizeWords: () => ' along its path',
  settings: COMMON_SETTINGS,
  shapes: [],
  usualSizePx: 12,
  haloLimitPercent: () => 150,
  followsPath: true,
  psf({ blurSizePx, path }) {
    if (!path) throw new CoreError('NO_PATH', 'Camera shake needs a path; measure the frame first.');
    return psfOfPath(path, blurSizePx);
  },
  reachPerPx: 8,
};
