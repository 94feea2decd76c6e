import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { createComplex, fastLength, fft2d, inverseFft2d, lanePlan, type ComplexPlane } from '../../src';
import { seeded } from '../synthetic';

const golden = JSON.parse(readFileSync(new URL('../../golden/skimage.json', import.meta.url), 'utf8')) as {
  width: number;
  height: number;
  truth: number[];
  fft: { re: number[]; im: number[] };
};

function randomComplex(width: number, height: number): ComplexPlane {
  const random = seeded(width * 1000 + height);
  const plane = createComplex(width, height);
  for (let i = 0; i < plane.re.length; i++) {
    plane.re[i] = random() - 0.5;
    plane.im[i] = random() - 0.5;
  }
  return plane;
}

const farthest = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

const energy = ({ re, im }: ComplexPlane) => re.reduce((sum, value, i) => sum + value * value + im[i] * im[i], 0);

describe('fft2d', () => {
  it('agrees with numpy.fft.fft2 on a picture of 80 × 60', () => {
    const plane = createComplex(golden.width, golden.height);
    plane.re.set(golden.truth);
    fft2d(plane);
    expect(farthest(plane.re, golden.fft.re)).toBeLessThan(2e-3);
    expect(farthest(plane.im, golden.fft.im)).toBeLessThan(2e-3);
  });

  it.each([
    [4, 60],
    [16, 9],
    [125, 8],
    [96, 100],
  ])('keeps the energy (Parseval) and comes back on %i × %i', (width, height) => {
    const plane = randomComplex(width, height);
    const copy = { re: plane.re.slice(), im: plane.im.slice() };
    const before = energy(plane);
    fft2d(plane);
    expect(energy(plane) / (width * height)).toBeCloseTo(before, 3);
    inverseFft2d(plane);
    expect(farthest(plane.re, copy.re)).toBeLessThan(1e-5);
    expect(farthest(plane.im, copy.im)).toBeLessThan(1e-5);
  });

  it('turns a circular convolution into a product', () => {
    const [width, height] = [12, 10];
    const a = randomComplex(width, height);
    const b = randomComplex(width, height);
    a.im.fill(0);
    b.im.fill(0);
    const direct = new Float64Array(width * height);
    for (let i = 0; i < direct.length; i++) {
      for (let j = 0; j < direct.length; j++) {
        const x = ((i % width) - (j % width) + width) % width;
        const y = (Math.floor(i / width) - Math.floor(j / width) + height) % height;
        direct[i] += a.re[j] * b.re[y * width + x];
      }
    }
    fft2d(a);
    fft2d(b);
    const product = createComplex(width, height);
    for (let i = 0; i < direct.length; i++) {
      product.re[i] = a.re[i] * b.re[i] - a.im[i] * b.im[i];
      product.im[i] = a.re[i] * b.im[i] + a.im[i] * b.re[i];
    }
    inverseFft2d(product);
    for (let i = 0; i < direct.length; i++) expect(product.re[i]).toBeCloseTo(direct[i], 5);
  });

  it('refuses lengths with a prime factor over 5 and finds the next that works', () => {
    expect(() => lanePlan(14)).toThrow(/no prime factor over 5, not 14/);
    expect(fastLength(577)).toBe(600);
    expect(fastLength(576)).toBe(576);
    expect(fastLength(1)).toBe(4);
  });
});
