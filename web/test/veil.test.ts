import { beforeAll, describe, expect, it } from 'vitest';
import { MaskPainter } from '../src/mask/MaskPainter';
import { paintVeil } from '../src/mask/veil';

/** As much of a canvas as the veil needs. */
class Pixels {
  readonly data: Uint8ClampedArray;
  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.data = new Uint8ClampedArray(4 * width * height);
  }
}

beforeAll(() => {
  (globalThis as { ImageData?: unknown }).ImageData = Pixels;
});

function painted(view: 'tracing' | 'contours' | 'mask', values: readonly number[], width: number): Uint8ClampedArray {
  let shown: Pixels | null = null;
  const canvas = { getContext: () => ({ putImageData: (pixels: Pixels) => (shown = pixels) }) };
  const painter = new MaskPainter(width, values.length / width, 1, Float32Array.from(values));
  paintVeil(canvas as unknown as HTMLCanvasElement, painter, view);
  return shown!.data;
}

describe('the veil over a frame', () => {
  const ramp = [0, 0.2, 0.6, 1];

  it('tracing paper: thick where nothing is covered, gone where all is', () => {
    const data = painted('tracing', ramp, 4);
    expect([data[3], data[15]]).toEqual([184, 0]);
    expect(data[7]).toBeGreaterThan(data[11]);
  });

  it('the plain mask is its value', () => {
    const data = painted('mask', ramp, 4);
    expect([0, 4, 8, 12].map((at) => data[at])).toEqual([0, 51, 153, 255]);
  });

  it('contours stand where 10, 50 and 90 % are passed, the middle one white', () => {
    const data = painted('contours', ramp, 4);
    expect([3, 7, 11, 15].map((at) => data[at])).toEqual([255, 255, 255, 0]);
    expect([0, 4, 8].map((at) => data[at])).toEqual([28, 255, 28]);
  });
});
