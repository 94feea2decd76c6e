import { createComplex, createPlane, fastLength, fft2d, inverseFft2d, type Plane } from '@vitrocept/core';
import { encodedLuma } from '@vitrocept/core';

export interface Shift {
  readonly x: number;
  readonly y: number;
}

const FARTHEST_PX = 6;

/** How far `result` lies from `truth`, px: Gauss–Newton on the brightness difference, from the best whole shift. */
export function shiftBetween(result: readonly Plane[], truth: readonly Plane[]): Shift {
  const a = encodedLuma(result);
  const b = encodedLuma(truth);
  let shift = bestWholeShift(a, b);
  for (let round = 0; round < 6; round++) {
    const moved = moveBack(a, shift);
    let [xx, xy, yy, xd, yd] = [0, 0, 0, 0, 0];
    for (let y = 40; y < b.height - 40; y++) {
      for (let x = 40; x < b.width - 40; x++) {
        const i = y * b.width + x;
        const gx = (b.data[i + 1] - b.data[i - 1]) / 2;
        const gy = (b.data[i + b.width] - b.data[i - b.width]) / 2;
        const d = moved.data[i] - b.data[i];
        xx += gx * gx;
        xy += gx * gy;
        yy += gy * gy;
        xd += gx * d;
        yd += gy * d;
      }
    }
    const determinant = xx * yy - xy * xy;
    const dx = -(yy * xd - xy * yd) / determinant;
    const dy = -(xx * yd - xy * xd) / determinant;
    if (!Number.isFinite(dx + dy) || Math.hypot(dx, dy) > 2) break;
    shift = { x: shift.x + dx, y: shift.y + dy };
    if (Math.hypot(dx, dy) < 0.005) break;
  }
  return shift;
}

function bestWholeShift(a: Plane, b: Plane): Shift {
  let best = { x: 0, y: 0 };
  let least = Infinity;
  for (let dy = -FARTHEST_PX; dy <= FARTHEST_PX; dy++) {
    for (let dx = -FARTHEST_PX; dx <= FARTHEST_PX; dx++) {
      let sum = 0;
      for (let y = 40; y < b.height - 40; y += 2) {
        for (let x = 40; x < b.width - 40; x += 2) {
          sum += (a.data[(y + dy) * b.width + x + dx] - b.data[y * b.width + x]) ** 2;
        }
      }
      if (sum < least) {
        least = sum;
        best = { x: dx, y: dy };
      }
    }
  }
  return best;
}

/** `plane` moved by −shift, by a phase ramp; the plane is mirrored into its padding so that nothing jumps. */
export function moveBack(plane: Plane, shift: Shift): Plane {
  if (shift.x === 0 && shift.y === 0) return plane;
  const width = fastLength(plane.width + 2 * FARTHEST_PX);
  const height = fastLength(plane.height + 2 * FARTHEST_PX);
  const piece = createComplex(width, height);
  const mirrored = (i: number, length: number, padded: number) =>
    i < length ? i : i < (length + padded) / 2 ? 2 * length - 1 - i : padded - 1 - i;
  for (let y = 0; y < height; y++) {
    const from = mirrored(y, plane.height, height) * plane.width;
    for (let x = 0; x < width; x++) piece.re[y * width + x] = plane.data[from + mirrored(x, plane.width, width)];
  }
  fft2d(piece);
  for (let v = 0; v < height; v++) {
    const fy = (v <= height / 2 ? v : v - height) / height;
    for (let u = 0; u < width; u++) {
      const phase = 2 * Math.PI * (((u <= width / 2 ? u : u - width) / width) * shift.x + fy * shift.y);
      const i = v * width + u;
      const re = piece.re[i];
      piece.re[i] = re * Math.cos(phase) - piece.im[i] * Math.sin(phase);
      piece.im[i] = re * Math.sin(phase) + piece.im[i] * Math.cos(phase);
    }
  }
  inverseFft2d(piece);
  const out = createPlane(plane.width, plane.height);
  for (let y = 0; y < plane.height; y++) {
    out.data.set(piece.re.subarray(y * width, y * width + plane.width), y * plane.width);
  }
  return out;
}
