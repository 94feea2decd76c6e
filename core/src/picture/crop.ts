import { createPlane, type Plane } from './plane';
import type { Region } from './region';

/**
 * Copies `region` out of `plane`. Samples outside repeat the nearest border sample: callers that must not
 * believe them give such samples no weight.
 */
export function cropPlane(plane: Plane, region: Region): Plane {
  const out = createPlane(region.width, region.height);
  for (let row = 0; row < region.height; row++) {
    const sourceRow = clampIndex(region.y + row, plane.height) * plane.width;
    const outRow = row * region.width;
    if (region.x >= 0 && region.x + region.width <= plane.width) {
      const from = sourceRow + region.x;
      out.data.set(plane.data.subarray(from, from + region.width), outRow);
      continue;
    }
    for (let column = 0; column < region.width; column++) {
      out.data[outRow + column] = plane.data[sourceRow + clampIndex(region.x + column, plane.width)];
    }
  }
  return out;
}

/** Writes `part` into `whole`, its first sample at `at`; it must lie inside. */
export function pastePlane(whole: Plane, part: Plane, at: { readonly x: number; readonly y: number }): void {
  for (let row = 0; row < part.height; row++) {
    const own = part.data.subarray(row * part.width, (row + 1) * part.width);
    whole.data.set(own, (at.y + row) * whole.width + at.x);
  }
}

export function clampIndex(index: number, length: number): number {
  return index < 0 ? 0 : index >= length ? length - 1 : index;
}

/** Flags of a picture of that width, over a part that lies in it. */
export function croppedFlags(flags: Uint8Array, width: number, part: Region): Uint8Array {
  const out = new Uint8Array(part.width * part.height);
  for (let y = 0; y < part.height; y++) {
    const from = (part.y + y) * width + part.x;
    out.set(flags.subarray(from, from + part.width), y * part.width);
  }
  return out;
}
