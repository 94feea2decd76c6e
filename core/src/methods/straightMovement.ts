import { linePsf } from '../psf/linePsf';
import type { BlurMethodDescription } from './method';

export const straightMovement: BlurMethodDescription = {
  name: 'Straight movement',
  help: 'For a subject or camera that moved in a line. Blur size is the length of the line.',
  sizeWords: ({ directionDeg }) => ` at ${directionDeg.toFixed(0)}°`,
  settings: ['amount', 'blurSizePx', 'directionDeg', 'noiseGuard', 'grainKeptPercent'],
  shapes: [],
  usualSizePx: 6,
  haloLimitPercent: () => 150,
  followsPath: false,
  psf: ({ blurSizePx, directionDeg }) => linePsf(blurSizePx, directionDeg),
  reachPerPx: 18,
};
