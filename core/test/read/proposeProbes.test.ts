import { describe, expect, it } from 'vitest';
import { filledPlane, proposeProbes, seededRandom, type Plane } from '../../src';

const WIDTH = 240;
const HEIGHT = 180;

const drawn = (value: (x: number, y: number) => number): Plane => ({
  width: WIDTH,
  height: HEIGHT,
  data: Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i % WIDTH, Math.floor(i / WIDTH))),
});

const far = (x: number, y: number, cx: number, cy: number) => Math.hypot(x - cx, y - cy);

describe('proposed probes', () => {
  it.each([6, 10, 16, 24])('an eye of radius %i px is found by its catch-light', (radius) => {
    const face = drawn((x, y) => {
      if (far(x, y, 120 - radius / 3, 90 - radius / 3) < 1.6) return 0.95;
      return far(x, y, 120, 90) < radius ? 0.08 : 0.45 + 0.02 * Math.sin(x / 5);
    });
    const eye = proposeProbes(face, null).find(({ kind }) => kind === 'perhaps-an-eye');
    expect(eye).toBeDefined();
    expect(far(eye!.x, eye!.y, 120 - radius / 3, 90 - radius / 3)).toBeLessThan(2.5);
  });

  it('a bright spot without a dark ring is no eye, nor is a dark disc without a spot', () => {
    const spot = drawn((x, y) => (far(x, y, 120, 90) < 2 ? 0.95 : 0.45));
    const hole = drawn((x, y) => (far(x, y, 120, 90) < 12 ? 0.08 : 0.45));
    for (const picture of [spot, hole]) {
      expect(proposeProbes(picture, null).map(({ kind }) => kind)).not.toContain('perhaps-an-eye');
    }
  });

  it('of two spots in dark rings the one on a head is taken for the eye, and none far from any', () => {
    const onHead = { x: 60, y: 50 };
    const clearer = { x: 180, y: 120 };
    const eyeAt = (x: number, y: number, { x: cx, y: cy }: { x: number; y: number }, dark: number) => {
      if (far(x, y, cx, cy) < 1.6) return 0.95;
      return far(x, y, cx, cy) < 10 ? dark : null;
    };
    const picture = drawn((x, y) => eyeAt(x, y, onHead, 0.16) ?? eyeAt(x, y, clearer, 0.08) ?? 0.45);
    const eyeOf = (head: Plane | null) =>
      proposeProbes(picture, null, head).find(({ kind }) => kind === 'perhaps-an-eye');
    const likely = drawn((x, y) => (far(x, y, 60, 50) < 30 ? 1 : -2));
    expect(far(eyeOf(null)!.x, eyeOf(null)!.y, clearer.x, clearer.y)).toBeLessThan(2.5);
    expect(far(eyeOf(likely)!.x, eyeOf(likely)!.y, onHead.x, onHead.y)).toBeLessThan(2.5);
    expect(eyeOf(filledPlane(WIDTH, HEIGHT, -4))).toBeUndefined();
  });

  it('the finest texture is a textured patch, not the strongest edge', () => {
    const random = seededRandom(3);
    const picture = drawn((x, y) => {
      const edge = x < 60 ? 0.1 : 0.7;
      return far(x, y, 170, 100) < 26 ? 0.7 + 0.06 * random.normal() : edge;
    });
    const found = proposeProbes(picture, null);
    const texture = found.find(({ kind }) => kind === 'finest-texture')!;
    expect(far(texture.x, texture.y, 170, 100)).toBeLessThan(26);
    expect(found.find(({ kind }) => kind === 'strongest-edge')!.x).toBeCloseTo(60, -1);
  });

  it('a calm gap between hairs is a small enclosed area', () => {
    const random = seededRandom(9);
    const picture = drawn((x, y) => {
      const rim = far(x, y, 120, 90);
      // A stronger edge and finer texture lie elsewhere, or the gap's own rim would be those.
      if (far(x, y, 195, 140) < 20) return 0.5 + 0.3 * random.normal();
      return x < 40 ? 0.98 : x < 60 ? 0.02 : rim >= 5 && rim <= 7 ? 0.9 : 0.3;
    });
    const gap = proposeProbes(picture, null).find(({ kind }) => kind === 'small-enclosed-area')!;
    expect(far(gap.x, gap.y, 120, 90)).toBeLessThan(3);
  });

  it('looks only at the subject, and for the background edge at its rim', () => {
    const random = seededRandom(5);
    const picture = drawn((x) => (x < 120 ? 0.3 : 0.6) + 0.05 * random.normal());
    const subject = drawn((x) => (x < 120 ? 1 : 0));
    const found = proposeProbes(picture, subject);
    expect(found.length).toBeGreaterThan(2);
    for (const { kind, x } of found) {
      if (kind === 'background-edge') expect(Math.abs(x - 120)).toBeLessThan(8);
      else expect(x).toBeLessThan(121);
    }
    expect(proposeProbes(picture, null).map(({ kind }) => kind)).not.toContain('background-edge');
  });

  it('proposes nothing on a flat picture, and keeps proposals apart', () => {
    expect(proposeProbes(filledPlane(WIDTH, HEIGHT, 0.4), null)).toEqual([]);
    const random = seededRandom(7);
    const found = proposeProbes(
      drawn(() => 0.4 + 0.1 * random.normal()),
      null,
    );
    found.forEach((one, i) =>
      found.slice(i + 1).forEach((other) => expect(far(one.x, one.y, other.x, other.y)).toBeGreaterThanOrEqual(14)),
    );
  });
});
