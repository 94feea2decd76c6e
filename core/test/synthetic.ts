import { createPlane, normalisedPsf, type Moment, type Plane, type Psf } from '../src';

/** A seeded generator of numbers in [0, 1): mulberry32 (public domain). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Normal numbers by Box and Muller. */
export function normal(random: () => number): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

/**
 * A picture with the statistics of natural ones: overlapping opaque discs with sizes after a power law ("dead
 * leaves": Lee, Mumford, Huang, IJCV 41, 2001). Linear values 0.05..0.8.
 */
export function deadLeaves(width: number, height: number, seed: number, leastRadius = 1.2): Plane {
  const random = seeded(seed);
  const plane = createPlane(width, height);
  for (let leaf = 0; leaf < (13 * width * height) / (100 * leastRadius ** 2); leaf++) {
    const radius = leastRadius / Math.sqrt(random() * 0.999 + 0.001);
    const [cx, cy, value] = [random() * width, random() * height, 0.05 + 0.75 * random()];
    for (let y = Math.max(0, Math.ceil(cy - radius)); y <= Math.min(height - 1, cy + radius); y++) {
      for (let x = Math.max(0, Math.ceil(cx - radius)); x <= Math.min(width - 1, cx + radius); x++) {
        if ((x - cx) ** 2 + (y - cy) ** 2 <= radius * radius) plane.data[y * width + x] = value;
      }
    }
  }
  return plane;
}

/** A point spread function that is like no mirror image or turn of itself, its centroid off its middle. */
export const LOPSIDED = normalisedPsf(9, 7, [
  ...[0, 0, 0, 0, 0, 0, 0, 0, 0],
  ...[0, 0, 2, 0, 0, 0, 0, 0, 0],
  ...[0, 0, 0, 3, 4, 2, 0, 0, 0],
  ...[0, 0, 0, 0, 0, 3, 3, 1, 0],
  ...[0, 0, 0, 0, 0, 0, 0, 0, 0],
  ...[0, 0, 0, 0, 0, 0, 0, 2, 0],
  ...[0, 0, 0, 0, 0, 0, 0, 0, 0],
]);

/** Convolution by direct summation; outside the picture its border repeats. */
export function convolve(plane: Plane, psf: Psf): Plane {
  const { width, height } = plane;
  const out = createPlane(width, height);
  const [mx, my] = [(psf.width - 1) / 2, (psf.height - 1) / 2];
  const clamp = (i: number, n: number) => Math.min(n - 1, Math.max(0, i));
  for (let v = 0; v < psf.height; v++) {
    for (let u = 0; u < psf.width; u++) {
      const weight = psf.data[v * psf.width + u];
      if (weight === 0) continue;
      for (let y = 0; y < height; y++) {
        const row = clamp(y - (v - my), height) * width;
        for (let x = 0; x < width; x++)
          out.data[y * width + x] += weight * plane.data[row + clamp(x - (u - mx), width)];
      }
    }
  }
  return out;
}

export function withNoise(plane: Plane, sigma: number, seed: number): Plane {
  const random = seeded(seed);
  return { ...plane, data: plane.data.map((value) => value + sigma * normal(random)) };
}

export function psnr(a: Plane, b: Plane, border = 0): number {
  let sum = 0;
  let count = 0;
  for (let y = border; y < a.height - border; y++) {
    for (let x = border; x < a.width - border; x++) {
      sum += (a.data[y * a.width + x] - b.data[y * a.width + x]) ** 2;
      count++;
    }
  }
  return 10 * Math.log10(count / sum);
}

/** A camera that moves along a bow and turns meanwhile. */
export const TURNING_MOMENTS: Moment[] = Array.from({ length: 81 }, (_, i) => {
  const t = i / 40 - 1;
  return { x: 4 * t, y: 3 * Math.cos(2 * t), angle: 0.008 * t };
});
