import { expect, it } from 'vitest';
import { pileOf } from '../../src/read/pile';

// First limits as design settled them (common practice, no source): blur 1.5 px, noise 1.5 % at mid-tone, 0.06
// cycles/px.
it.each([
  [0, 0.3, 0.4, 'good-as-is'],
  [1.5, 1.5, 0.4, 'good-as-is'],
  [1.6, 1.5, 0.4, 'soft'],
  [1.4, 1.6, 0.4, 'grainy'],
  [1.6, 5, 0.4, 'soft'],
  [30, 2, 0.059, 'beyond-recovery'],
  [30, 2, 0.061, 'soft'],
] as const)('blur %f px, noise %f %%, detail up to %f cycles/px: %s', (blurPx, noisePercent, limit, pile) => {
  expect(pileOf(blurPx, noisePercent, limit)).toBe(pile);
});
