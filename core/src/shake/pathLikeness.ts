import { normalisedPsf, type Psf } from '../psf/psf';

/** In the middle of a square of another odd side; what does not fit is lost. */
export function inSquare({ width, data }: Psf, side: number): Psf {
  const values = new Float32Array(side * side);
  const rim = (side - width) / 2;
  data.forEach((value, i) => {
    const x = (i % width) + rim;
    const y = Math.floor(i / width) + rim;
    if (x >= 0 && x < side && y >= 0 && y < side) values[y * side + x] = value;
  });
  return normalisedPsf(side, side, values);
}

/** Root of the mean squared distance from the centroid, px. */
export function spreadOf({ width, data }: Psf): number {
  let [x, y, squares] = [0, 0, 0];
  data.forEach((value, i) => {
    const [column, row] = [i % width, Math.floor(i / width)];
    x += value * column;
    y += value * row;
    squares += value * (column * column + row * row);
  });
  return Math.sqrt(squares - x * x - y * y);
}

const MOST_SHIFT = 4;

/**
 * How like a path is to another in a square of the same side (cosine, 0..1), moved by whole px to where it is most so.
 */
export function likenessOf(path: Psf, other: Psf): number {
  const product = (a: Float32Array, b: Float32Array) => a.reduce((sum, value, i) => sum + value * b[i], 0);
  let most = 0;
  for (let dy = -MOST_SHIFT; dy <= MOST_SHIFT; dy++) {
    for (let dx = -MOST_SHIFT; dx <= MOST_SHIFT; dx++) {
      most = Math.max(most, product(shifted(path, dx, dy), other.data));
    }
  }
  return most / Math.sqrt(product(path.data, path.data) * product(other.data, other.data));
}

function shifted({ width, height, data }: Psf, dx: number, dy: number): Float32Array {
  const out = new Float32Array(data.length);
  data.forEach((value, i) => {
    const x = (i % width) + dx;
    const y = Math.floor(i / width) + dy;
    if (x >= 0 && x < width && y >= 0 && y < height) out[y * width + x] = value;
  });
  return out;
}
