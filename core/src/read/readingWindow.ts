import type { Plane } from '../picture/plane';
import type { Region } from '../picture/region';

/**
 * More is not measured at once: it tells nothing new, later, and would need more memory than machines have to spare.
 */
export const MOST_READ_PX = 4e6;

/**
 * The part of an area that is measured where it is very large: the window of MOST_READ_PX with the most of the mask
 * under it, else its middle. `coverage` is the mask over the area, drawn small (0..1); null for none.
 */
export function readingWindow(area: Region, coverage: Plane | null, mostPx = MOST_READ_PX): Region {
  if (area.width * area.height <= mostPx) return area;
  const scale = Math.sqrt(mostPx / (area.width * area.height));
  const width = Math.floor(area.width * scale);
  const height = Math.floor(area.height * scale);
  const [freeX, freeY] = [area.width - width, area.height - height];
  let best = { x: Math.floor(freeX / 2), y: Math.floor(freeY / 2), sum: -1 };
  if (coverage) {
    const sums = summed(coverage);
    for (let j = 0; j <= PLACES; j++) {
      for (let i = 0; i <= PLACES; i++) {
        const [x, y] = [Math.floor((freeX * i) / PLACES), Math.floor((freeY * j) / PLACES)];
        const sum = sums(x / area.width, y / area.height, (x + width) / area.width, (y + height) / area.height);
        if (sum > best.sum) best = { x, y, sum };
      }
    }
  }
  return { x: area.x + best.x, y: area.y + best.y, width, height };
}

const PLACES = 16;

/** How much coverage lies in a rectangle given by shares of the plane, from sums over all corners. */
function summed({ width, height, data }: Plane) {
  const sums = new Float64Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    for (let x = 0, row = 0; x < width; x++) {
      row += data[y * width + x];
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row;
    }
  }
  const at = (x: number, y: number) => sums[Math.round(y * height) * (width + 1) + Math.round(x * width)];
  return (x0: number, y0: number, x1: number, y1: number) => at(x1, y1) - at(x0, y1) - at(x1, y0) + at(x0, y0);
}
