import { fastLength } from '../fourier/lanes';
import { createPlane, type Plane } from '../picture/plane';
import type { Size } from '../picture/region';

/**
 * The transform is periodic: a gap of unknown samples, as wide as the blur reaches, keeps one edge from explaining the
 * opposite one. It is made of padding, and where that is too narrow of the plane's own last samples.
 */
export function paddedSize(plane: Plane, gap: number): Size {
  return { width: fastLength(plane.width + gap), height: fastLength(plane.height + gap) };
}

export function withGap(weight: Plane, plane: Plane, reach: number): Plane {
  const lastColumn = Math.min(plane.width, weight.width - reach);
  const lastRow = Math.min(plane.height, weight.height - reach);
  for (let y = 0; y < plane.height; y++) {
    weight.data.fill(0, y * weight.width + (y < lastRow ? lastColumn : 0), (y + 1) * weight.width);
  }
  return weight;
}

/** Extends to the right and below; filled with a blend between the two edges that meet there, or with 0. */
export function padded(plane: Plane, { width, height }: Size, blend: boolean): Plane {
  const out = createPlane(width, height);
  for (let y = 0; y < plane.height; y++) {
    const from = y * plane.width;
    out.data.set(plane.data.subarray(from, from + plane.width), y * width);
    if (!blend) continue;
    for (let x = plane.width; x < width; x++) {
      const share = (x - plane.width + 1) / (width - plane.width + 1);
      out.data[y * width + x] = plane.data[from + plane.width - 1] * (1 - share) + plane.data[from] * share;
    }
  }
  if (!blend) return out;
  for (let y = plane.height; y < height; y++) {
    const share = (y - plane.height + 1) / (height - plane.height + 1);
    for (let x = 0; x < width; x++) {
      out.data[y * width + x] = out.data[(plane.height - 1) * width + x] * (1 - share) + out.data[x] * share;
    }
  }
  return out;
}

export function paddedFlags(flags: Uint8Array, plane: Plane, { width, height }: Size): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < plane.height; y++) {
    out.set(flags.subarray(y * plane.width, (y + 1) * plane.width), y * width);
  }
  return out;
}

export function cutBack(answer: Plane, { width, height }: Plane): Plane {
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    out.data.set(answer.data.subarray(y * answer.width, y * answer.width + width), y * width);
  }
  return out;
}
