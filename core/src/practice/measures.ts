import { minus, product } from '../picture/arithmetic';
import { boxMean } from '../picture/boxMean';
import { gaussianBlur } from '../picture/gaussianBlur';
import { neighbourhoodRange } from '../picture/neighbourhoodRange';
import type { Plane } from '../picture/plane';
import { REC709_WEIGHTS } from '../picture/toneCurve';

/** Samples left out along every edge. */
export const BORDER_PX = 32;

/** Peak signal-to-noise ratio in dB over all channels, sRGB-encoded 0..1, without the border. */
export function psnr(result: readonly Plane[], truth: readonly Plane[], where: Plane | null = null): number {
  let sum = 0;
  let count = 0;
  result.forEach((plane, c) => {
    eachInside(plane, (i) => {
      if (where && where.data[i] <= 0.5) return;
      sum += (plane.data[i] - truth[c].data[i]) ** 2;
      count++;
    });
  });
  return 10 * Math.log10(count / Math.max(sum, 1e-12));
}

/** Places that count: no border. */
export function eachInside({ width, height }: Plane, visit: (index: number) => void): void {
  for (let y = BORDER_PX; y < height - BORDER_PX; y++) {
    for (let x = BORDER_PX; x < width - BORDER_PX; x++) visit(y * width + x);
  }
}

/**
 * Structural similarity, mean over channels: 7 × 7 uniform windows, sample covariance, K₁ 0.01, K₂ 0.03, range 1.
 * Source: Wang, Bovik, Sheikh, Simoncelli, IEEE TIP 13 (2004); the window as in scikit-image, which the test holds it
 * to.
 */
export function ssim(result: readonly Plane[], truth: readonly Plane[]): number {
  let sum = 0;
  let count = 0;
  const correction = 49 / 48;
  result.forEach((x, c) => {
    const y = truth[c];
    const meanX = boxMean(x, 3).data;
    const meanY = boxMean(y, 3).data;
    const meanXX = boxMean(product(x, x), 3).data;
    const meanYY = boxMean(product(y, y), 3).data;
    const meanXY = boxMean(product(x, y), 3).data;
    eachInside(x, (i) => {
      const varX = correction * (meanXX[i] - meanX[i] ** 2);
      const varY = correction * (meanYY[i] - meanY[i] ** 2);
      const both = correction * (meanXY[i] - meanX[i] * meanY[i]);
      const top = (2 * meanX[i] * meanY[i] + 1e-4) * (2 * both + 9e-4);
      sum += top / ((meanX[i] ** 2 + meanY[i] ** 2 + 1e-4) * (varX + varY + 9e-4));
      count++;
    });
  });
  return sum / count;
}

/** Mean of how far encoded luma leaves the truth's 5 × 5 envelope, in 8-bit levels. */
export function halo(result: Plane, truth: Plane): number {
  const { low, high } = neighbourhoodRange(truth, 2);
  let sum = 0;
  let count = 0;
  eachInside(result, (i) => {
    sum += Math.max(0, result.data[i] - high.data[i], low.data[i] - result.data[i]);
    count++;
  });
  return (255 * sum) / count;
}

/**
 * Invented fine detail: energy of the result's high-pass (luma minus Gaussian 2) that a local regression (Gaussian
 * window 4) on the truth's high-pass does not explain, over the energy of the truth's.
 */
export function inventedDetail(result: Plane, truth: Plane): number {
  const fine = (plane: Plane) => minus(plane, gaussianBlur(plane, 2));
  const x = fine(truth);
  const y = fine(result);
  const xx = gaussianBlur(product(x, x), 4).data;
  const xy = gaussianBlur(product(x, y), 4).data;
  let left = 0;
  let energy = 0;
  eachInside(result, (i) => {
    const gain = xy[i] / Math.max(xx[i], 1e-9);
    left += (y.data[i] - gain * x.data[i]) ** 2;
    energy += x.data[i] ** 2;
  });
  return left / Math.max(energy, 1e-12);
}

/** Mean chroma error: distance of (red − luma, blue − luma), 8-bit levels. */
export function colourError(result: readonly Plane[], truth: readonly Plane[]): number {
  const lumaR = encodedLuma(result).data;
  const lumaT = encodedLuma(truth).data;
  let sum = 0;
  let count = 0;
  eachInside(result[0], (i) => {
    const red = result[0].data[i] - lumaR[i] - truth[0].data[i] + lumaT[i];
    const blue = result[2].data[i] - lumaR[i] - truth[2].data[i] + lumaT[i];
    sum += Math.hypot(red, blue);
    count++;
  });
  return (255 * sum) / count;
}

export function encodedLuma([red, green, blue]: readonly Plane[]): Plane {
  const [r, g, b] = REC709_WEIGHTS;
  return { ...red, data: red.data.map((value, i) => r * value + g * green.data[i] + b * blue.data[i]) };
}
