import { expect, it } from 'vitest';
import { seededRandom } from '@vitrocept/core';
import { readLosslessJpeg } from '../src/raw/losslessJpeg';
import { losslessJpeg } from './losslessJpeg';

const [WIDTH, HEIGHT] = [39, 17];
const numbers = (seed: number): Uint16Array => {
  const random = seededRandom(seed);
  return Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => 3000 + 40 * (i % WIDTH) + 900 * random.uniform());
};

it.each([1, 2, 3, 4, 5, 6, 7])(
  'three colours by predictor %i are unpacked, and what is missing is told',
  (predictor) => {
    const samples = numbers(40 + predictor);
    const bytes = losslessJpeg(samples, WIDTH, HEIGHT, 14, { components: 3, predictor });
    expect(readLosslessJpeg(bytes, samples.length)).toEqual(samples);
    expect(() => readLosslessJpeg(bytes.subarray(0, bytes.length - 60), samples.length)).toThrow('samples are missing');
    expect(() => readLosslessJpeg(bytes, samples.length + 3)).toThrow('another size');
  },
);

it('it may begin anew every few rows', () => {
  for (const restartRows of [1, 4]) {
    const samples = numbers(60 + restartRows);
    const bytes = losslessJpeg(samples, WIDTH, HEIGHT, 14, { components: 3, predictor: 4, restartRows });
    expect(readLosslessJpeg(bytes, samples.length)).toEqual(samples);
  }
});
