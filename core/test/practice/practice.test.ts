import { describe, expect, it } from 'vitest';
import {
  blurred,
  discPsf,
  exposed,
  filledPlane,
  inner,
  pathPsf,
  planeOf,
  reachOf,
  seededRandom,
  shakePath,
  subjectBlurred,
} from '../../src';
import { bladedPsf } from '../../src/psf/bladedPsf';
import { deadLeaves } from '../synthetic';

describe('practice camera', () => {
  it('the same seed gives the same numbers; they have the moments they should', () => {
    const [a, b] = [seededRandom(5), seededRandom(5)];
    expect([a.uniform(), a.normal()]).toEqual([b.uniform(), b.normal()]);
    expect(seededRandom(6).uniform()).not.toBe(seededRandom(5).uniform());
    const draws = Array.from({ length: 20000 }, () => a.normal());
    const mean = draws.reduce((sum, value) => sum + value, 0) / draws.length;
    const variance = draws.reduce((sum, value) => sum + (value - mean) ** 2, 0) / draws.length;
    expect(mean).toBeCloseTo(0, 1);
    expect(variance).toBeCloseTo(1, 1);
  });

  it('noise has variance a·y + b, and the sensor clips', () => {
    const flat = filledPlane(200, 200, 0.25);
    const [noisy] = exposed([flat], [{ a: 4e-4, b: 1e-4 }], seededRandom(3));
    const mean = noisy.data.reduce((sum, value) => sum + value, 0) / noisy.data.length;
    const variance = noisy.data.reduce((sum, value) => sum + (value - mean) ** 2, 0) / noisy.data.length;
    expect(variance / 2e-4).toBeCloseTo(1, 1);
    const [white] = exposed([filledPlane(20, 20, 1.2)], [{ a: 0, b: 0 }], seededRandom(3));
    expect(Math.max(...white.data)).toBe(1);
  });

  it('blurs from true neighbours: a flat scene stays flat to its edge, a point becomes the PSF', () => {
    const [flat] = blurred([filledPlane(60, 50, 0.3)], discPsf(3), 5);
    expect(flat.width).toBe(50);
    expect(Math.max(...flat.data)).toBeCloseTo(0.3, 5);
    expect(Math.min(...flat.data)).toBeCloseTo(0.3, 5);
    const point = filledPlane(41, 41, 0);
    point.data[20 * 41 + 20] = 1;
    const psf = discPsf(2.2);
    const [spread] = blurred([point], psf, 10);
    for (let y = -3; y <= 3; y++) {
      for (let x = -3; x <= 3; x++) {
        const own = psf.data[(y + (psf.height - 1) / 2) * psf.width + x + (psf.width - 1) / 2] ?? 0;
        expect(spread.data[(10 + y) * spread.width + 10 + x]).toBeCloseTo(own, 5);
      }
    }
    expect(() => blurred([point], discPsf(12), 5)).toThrow(/border/);
  });

  it('a shake keeps its box, starts nowhere special and draws a PSF whose centroid is in the middle', () => {
    const path = shakePath(seededRandom(9), 14);
    const across = (pick: (point: { x: number; y: number }) => number) =>
      Math.max(...path.map(pick)) - Math.min(...path.map(pick));
    expect(
      Math.max(
        across(({ x }) => x),
        across(({ y }) => y),
      ),
    ).toBeCloseTo(14, 6);
    const psf = pathPsf(path);
    let [x, y] = [0, 0];
    psf.data.forEach((value, i) => {
      x += value * ((i % psf.width) - (psf.width - 1) / 2);
      y += value * (Math.floor(i / psf.width) - (psf.height - 1) / 2);
    });
    expect(Math.hypot(x, y)).toBeLessThan(0.01);
  });

  it('a subject moves over a still background', () => {
    const scene = deadLeaves(80, 80, 4);
    const nothing = subjectBlurred([scene], filledPlane(80, 80, 0), discPsf(3), 8)[0];
    inner(scene, 8).data.forEach((value, i) => expect(nothing.data[i]).toBeCloseTo(value, 5));
    const all = subjectBlurred([scene], filledPlane(80, 80, 1), discPsf(3), 8)[0];
    const whole = blurred([scene], discPsf(3), 8)[0];
    all.data.forEach((value, i) => expect(value).toBeCloseTo(whole.data[i], 4));
  });

  it('a diaphragm of blades covers the area of its circle, with corners where they are said to be', () => {
    for (const blades of [5, 6, 9, 11]) {
      const psf = bladedPsf(6, blades, 0);
      const most = Math.max(...psf.data);
      expect(1 / most / (Math.PI * 36)).toBeCloseTo(1, 2);
    }
    const six = bladedPsf(6, 6, 0);
    const turned = bladedPsf(6, 6, 30);
    const middle = (six.height - 1) / 2;
    const row = (psf: typeof six) => {
      const centre = (psf.height - 1) / 2;
      return psf.data.slice(centre * psf.width, (centre + 1) * psf.width).filter((value) => value > 0).length;
    };
    expect(row(six)).toBeGreaterThan(row(turned));
    expect(reachOf(six)).toBeLessThanOrEqual(middle);
    expect(() => bladedPsf(4, 4, 0)).toThrow(/5 to 11 blades/);
    expect(() => bladedPsf(0, 6, 0)).toThrow(/above 0/);
    // A polygon of many blades is nearly the disc (common practice, no source).
    const disc = discPsf(6);
    const many = bladedPsf(6, 11, 10);
    expect(planeOf(1, 1, [Math.max(...many.data)]).data[0]).toBeCloseTo(Math.max(...disc.data), 3);
  });
});
