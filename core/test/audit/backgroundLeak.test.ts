import { describe, expect, it } from 'vitest';
import {
  acceptReading,
  auditTile,
  automaticRecovery,
  colourSpaceOf,
  createPlane,
  emptyPrescription,
  encodeChannels,
  figuresOver,
  filledPlane,
  FINAL_EFFORT,
  gaussianBlur,
  solveTile,
  type MaskOperation,
  type Plane,
  type Prescription,
  type Reading,
} from '../../src';
import { fastKernels } from '../fastKernels';
import { backgroundLeak } from '../../src/audit/backgroundLeak';
import { convolve, deadLeaves, normal, seeded, withNoise } from '../synthetic';
import { discPsf } from '../../src';

const SIDE = 96;
const SIGMA = 0.008;
const noise = filledPlane(SIDE, SIDE, SIGMA ** 2);
const everywhere = new Uint8Array(SIDE * SIDE).fill(1);
const smooth = gaussianBlur(deadLeaves(SIDE, SIDE, 2), 9);
const middle = (plane: Plane) => plane.data[(SIDE / 2) * SIDE + SIDE / 2];

function worms(amplitude: number): Plane {
  const out = createPlane(SIDE, SIDE);
  for (let i = 0; i < out.data.length; i++) out.data[i] = amplitude * Math.sin((i % SIDE) * 1.6) * Math.SQRT2;
  return out;
}
const plus = (a: Plane, b: Plane): Plane => ({ ...a, data: a.data.map((value, i) => value + b.data[i]) });

describe('background beyond the mask', () => {
  const photograph = withNoise(smooth, SIGMA, 4);

  it('reads the structure that was added, in the photograph’s own units', () => {
    const leak = backgroundLeak(smooth, plus(smooth, worms(0.02)), noise, everywhere, 6)!;
    expect(Math.abs(middle(leak) - 0.02)).toBeLessThan(0.002);
  });

  it('grain taken away is no leak, a steady tone neither', () => {
    expect(middle(backgroundLeak(photograph, smooth, noise, everywhere, 6)!)).toBe(0);
    const lighter = { ...smooth, data: smooth.data.map((value) => value + 0.1) };
    expect(middle(backgroundLeak(smooth, lighter, noise, everywhere, 6)!)).toBeLessThan(1e-4);
  });

  it('says nothing where the background is in focus, nor under the mask', () => {
    const sharp = deadLeaves(SIDE, SIDE, 6);
    const leak = backgroundLeak(sharp, plus(sharp, worms(0.02)), noise, everywhere, 6);
    const judged = leak ? leak.data.filter((value) => value >= 0).length : 0;
    expect(judged / everywhere.length).toBeLessThan(0.5);
    expect(backgroundLeak(smooth, smooth, noise, new Uint8Array(SIDE * SIDE), 6)).toBeNull();
  });
});

describe('the guard in a tile', () => {
  const random = seeded(9);
  const frame = { width: 128, height: 128 };
  const tile = { x: 0, y: 0, ...frame };
  // A sharp disc of texture before a soft ground, all seen through a missed focus.
  const texture = deadLeaves(128, 128, 8);
  const ground = gaussianBlur(deadLeaves(128, 128, 9), 10);
  const scene = createPlane(128, 128);
  for (let i = 0; i < scene.data.length; i++) {
    const isSubject = Math.hypot((i % 128) - 64, Math.floor(i / 128) - 64) < 30;
    scene.data[i] = isSubject ? texture.data[i] : ground.data[i];
  }
  const photograph = convolve(scene, discPsf(2.5));
  for (let i = 0; i < photograph.data.length; i++) photograph.data[i] += 0.02 * normal(random);
  const space = colourSpaceOf(null, 1);
  const piece = { region: tile, channels: 1 as const, codes: encodeChannels([photograph], space) };
  const source = { frame, space };
  const effort = { ...FINAL_EFFORT, kernels: fastKernels };
  const wideMask: MaskOperation[] = [{ kind: 'radial', mode: 'add', x: 64, y: 64, rx: 60, ry: 60, featherPercent: 60 }];
  const plan = (method: 'missed-focus' | 'edge-contrast'): Prescription => {
    const reading = acceptReading(
      {
        cause: { method: 'missed-focus', blurSizePx: 5, directionDeg: 0 },
        runnerUp: null,
        noise: [{ a: 0, b: 4e-4 }],
        floor: [4e-4],
        sizes: [],
      } as unknown as Reading,
      { kind: 'centre', key: '' },
    );
    const recovery = { ...automaticRecovery(method, reading, 100), trialId: null };
    return { ...emptyPrescription(), reading, recovery, mask: { ...emptyPrescription().mask, operations: wideMask } };
  };
  const leakOf = (method: 'missed-focus' | 'edge-contrast') => {
    const solved = solveTile(source, plan(method), piece, tile, effort)!;
    return figuresOver([auditTile(source, plan(method), piece, tile, solved, 16, effort)], tile).leak;
  };

  it('an honest recovery leaves the background beyond its mask alone; sharpened grain is flagged', () => {
    const honest = leakOf('missed-focus');
    expect(honest.verdict).toBe('safe');
    const crust = leakOf('edge-contrast');
    expect(['check', 'damaged']).toContain(crust.verdict);
    expect(crust.value).toBeGreaterThan(4 * honest.value);
  });
});
