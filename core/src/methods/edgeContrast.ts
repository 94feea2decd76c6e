import type { MethodDescription } from './method';

export const edgeContrast: MethodDescription = {
  name: 'Edge contrast',
  help: 'Makes edges steeper without undoing a blur; for frames that need only a little.',
  sizeWords: () => ' wide',
  settings: ['amount', 'blurSizePx', 'grainKeptPercent'],
  shapes: [],
  usualSizePx: 2,
  haloLimitPercent: () => 5,
  followsPath: false,
};
