import { describe, expect, it } from 'vitest';
import { DRAFT_EFFORT, reachOf, reachOfRecovery, type Method, type RecoverySettings } from '../../src';
import { discPsf } from '../../src/psf/discPsf';

/** How far a tile looks: enough that it agrees with the whole frame (files/test/tiles.test.ts), and no farther. */
const settings = (method: Method, blurSizePx: number, noisePercent: number, noiseGuard = 50): RecoverySettings => {
  const variance = (noisePercent / 100) ** 2;
  return {
    method,
    blurSizePx,
    directionDeg: 0,
    noiseGuard,
    haloLimitPercent: null,
    grainKeptPercent: 0,
    noise: [{ a: 0, b: variance }],
    noiseFloor: [variance],
  };
};

describe('how far a recovery looks', () => {
  it('is 48 px for what is short and noisy, in steps of 16, at most 256', () => {
    expect(reachOfRecovery(settings('missed-focus', 4, 1))).toBe(48);
    expect(reachOfRecovery(settings('ordinary-softness', 3, 1))).toBe(48);
    expect(reachOfRecovery(settings('straight-movement', 40, 0.2))).toBe(256);
    for (const size of [5, 9, 14, 20]) expect(reachOfRecovery(settings('missed-focus', size, 0.4)) % 16).toBe(0);
  });

  it('grows with the blur', () => {
    const reaches = [4, 8, 12, 16, 24].map((size) => reachOfRecovery(settings('missed-focus', size, 0.5)));
    expect(reaches).toEqual([...reaches].sort((a, b) => a - b));
    expect(reaches[4]).toBeGreaterThan(2 * reaches[0]);
  });

  it('grows as noise falls, and with it what the noise guard allows', () => {
    const far = [3, 1, 0.4, 0.2].map((noise) => reachOfRecovery(settings('straight-movement', 12, noise)));
    expect(far).toEqual([...far].sort((a, b) => a - b));
    expect(far[3]).toBeGreaterThan(far[0]);
    const guarded = [80, 50, 20].map((guard) => reachOfRecovery(settings('straight-movement', 12, 0.5, guard)));
    expect(guarded[0]).toBeLessThan(guarded[1]);
    expect(guarded[1]).toBeLessThan(guarded[2]);
  });

  it('is farther for a movement than for a disc of the same reach, and a given blur counts by its own reach', () => {
    const disc = reachOfRecovery(settings('missed-focus', 12, 0.5));
    expect(reachOfRecovery(settings('straight-movement', 12, 0.5))).toBeGreaterThan(disc);
    const small = reachOfRecovery(settings('camera-shake', 60, 0.5), discPsf(2));
    const large = reachOfRecovery(settings('camera-shake', 4, 0.5), discPsf(9));
    expect(reachOf(discPsf(9))).toBeGreaterThan(reachOf(discPsf(2)));
    expect(large).toBeGreaterThan(small);
  });

  it('a draft looks no farther than it is told', () => {
    const long = settings('straight-movement', 20, 0.2);
    expect(reachOfRecovery(long, undefined, { ...DRAFT_EFFORT })).toBe(DRAFT_EFFORT.farthestPx);
    expect(reachOfRecovery(long)).toBeGreaterThan(DRAFT_EFFORT.farthestPx);
  });
});
