import type { Plane } from '../picture/plane';
import { normalisedPsf, type Psf } from '../psf/psf';

/** A speck apart from the rest counts only with this share of all light. */
const LEAST_SPECK = 0.1;

/**
 * A raw estimate made a path: no negative light, no specks, weight in the middle of the square.
 *
 * @param leastShare - Below this share of the strongest sample nothing counts.
 */
export function cleanPath(raw: Plane, leastShare: number): Psf {
  const { width, height, data } = withoutSpecks(raw, leastShare);
  return centred(data, width, height);
}

/** The same, laid as it was. */
export function withoutSpecks({ width, height, data }: Plane, leastShare: number): Psf {
  const strongest = Math.max(...data);
  if (!(strongest > 0)) return pointIn(width, height);
  const values = data.map((value) => (value < leastShare * strongest ? 0 : value));
  dropSpecks(values, width, height);
  return normalisedPsf(width, height, values);
}

function pointIn(width: number, height: number): Psf {
  const values = new Float32Array(width * height);
  values[(values.length - 1) / 2] = 1;
  return normalisedPsf(width, height, values);
}

/** Clears connected pieces (eight neighbours) that hold little of the light; the heaviest always stays. */
function dropSpecks(values: Float32Array, width: number, height: number): void {
  const total = values.reduce((sum, value) => sum + value, 0);
  const seen = new Uint8Array(values.length);
  const pieces: { light: number; places: number[] }[] = [];
  for (let start = 0; start < values.length; start++) {
    if (seen[start] || values[start] === 0) continue;
    const piece = [start];
    seen[start] = 1;
    for (let at = 0; at < piece.length; at++) {
      const x = piece[at] % width;
      const y = Math.floor(piece[at] / width);
      for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++) {
        for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
          const i = ny * width + nx;
          if (seen[i] || values[i] === 0) continue;
          seen[i] = 1;
          piece.push(i);
        }
      }
    }
    pieces.push({ light: piece.reduce((sum, i) => sum + values[i], 0), places: piece });
  }
  const heaviest = Math.max(...pieces.map(({ light }) => light));
  for (const { light, places } of pieces) {
    if (light < Math.min(heaviest, LEAST_SPECK * total)) for (const i of places) values[i] = 0;
  }
}

/** Moved by whole px so that the centroid lies in the middle sample; what would leave the square is lost. */
function centred(values: Float32Array, width: number, height: number): Psf {
  let [sum, sumX, sumY] = [0, 0, 0];
  values.forEach((value, i) => {
    sum += value;
    sumX += value * (i % width);
    sumY += value * Math.floor(i / width);
  });
  const dx = Math.round((width - 1) / 2 - sumX / sum);
  const dy = Math.round((height - 1) / 2 - sumY / sum);
  const out = new Float32Array(values.length);
  values.forEach((value, i) => {
    const x = (i % width) + dx;
    const y = Math.floor(i / width) + dy;
    if (x >= 0 && x < width && y >= 0 && y < height) out[y * width + x] = value;
  });
  return normalisedPsf(width, height, out);
}
