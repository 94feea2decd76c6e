import { createPlane, type Plane } from '../picture/plane';

const SMOOTHINGS = 40;
/** Smaller grids are solved by smoothing alone. */
const LEAST_SIDE = 6;

/**
 * The smoothest plane that is `edge` where nothing is free: its Laplacian is 0 where `free` is 1. Begun on a grid half
 * as fine, then smoothed on its own.
 *
 * @param free - 1 where a sample is sought, 0 where `edge` holds; the plane's border should hold.
 */
export function membrane(edge: Plane, free: ArrayLike<number>): Plane {
  const { width, height } = edge;
  const out = createPlane(width, height);
  const begun = Math.min(width, height) > LEAST_SIDE ? begunOn(edge, free) : null;
  const mean = meanOfEdge(edge, free);
  for (let i = 0; i < out.data.length; i++) out.data[i] = free[i] ? (begun ? begun.data[i] : mean) : edge.data[i];
  for (let round = 0; round < SMOOTHINGS; round++) relax(out, free);
  return out;
}

/** Over-relaxed Gauss–Seidel, forth and back, so that no direction is preferred. */
function relax({ width, height, data }: Plane, free: ArrayLike<number>): void {
  const step = (i: number, x: number, y: number) => {
    if (!free[i]) return;
    const left = x > 0 ? data[i - 1] : data[i + 1];
    const right = x < width - 1 ? data[i + 1] : data[i - 1];
    const above = y > 0 ? data[i - width] : data[i + width];
    const below = y < height - 1 ? data[i + width] : data[i - width];
    data[i] += 1.6 * (0.25 * (left + right + above + below) - data[i]);
  };
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) step(i, x, y);
  for (let y = height - 1, i = data.length - 1; y >= 0; y--) for (let x = width - 1; x >= 0; x--, i--) step(i, x, y);
}

function begunOn(edge: Plane, free: ArrayLike<number>): Plane {
  const [width, height] = [Math.ceil(edge.width / 2), Math.ceil(edge.height / 2)];
  const coarse = createPlane(width, height);
  const open = new Uint8Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      let [sum, count] = [0, 0];
      for (let v = 2 * y; v < Math.min(edge.height, 2 * y + 2); v++) {
        for (let u = 2 * x; u < Math.min(edge.width, 2 * x + 2); u++) {
          if (free[v * edge.width + u]) continue;
          sum += edge.data[v * edge.width + u];
          count++;
        }
      }
      if (count > 0) coarse.data[i] = sum / count;
      else open[i] = 1;
    }
  }
  const solved = membrane(coarse, open);
  const out = createPlane(edge.width, edge.height);
  for (let y = 0, i = 0; y < edge.height; y++) {
    for (let x = 0; x < edge.width; x++, i++) out.data[i] = solved.data[(y >> 1) * width + (x >> 1)];
  }
  return out;
}

function meanOfEdge(edge: Plane, free: ArrayLike<number>): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < edge.data.length; i++) {
    if (free[i]) continue;
    sum += edge.data[i];
    count++;
  }
  return count > 0 ? sum / count : 0;
}
