import { createPlane, type Plane } from '../picture/plane';
import type { Stack } from './network';

/** Where the four samples of a square stand in its plane's four channels. */
const CORNERS = [
  [0, 0],
  [0, 1],
  [1, 0],
  [1, 1],
] as const;

/** Each plane's squares of 2 × 2 samples as four channels of half its sides, which are even. */
export function foldedStack(planes: readonly Plane[]): Stack {
  const width = planes[0].width / 2;
  const height = planes[0].height / 2;
  const data = new Float32Array(4 * planes.length * width * height);
  let to = 0;
  for (const plane of planes) {
    for (const [down, across] of CORNERS) {
      for (let y = 0; y < height; y++) {
        let from = (2 * y + down) * plane.width + across;
        for (let x = 0; x < width; x++, from += 2) data[to++] = plane.data[from];
      }
    }
  }
  return { width, height, channels: 4 * planes.length, data };
}

/** Undoes `foldedStack`. */
export function unfolded({ width, height, channels, data }: Stack): Plane[] {
  let from = 0;
  return Array.from({ length: channels / 4 }, () => {
    const plane = createPlane(2 * width, 2 * height);
    for (const [down, across] of CORNERS) {
      for (let y = 0; y < height; y++) {
        let to = (2 * y + down) * plane.width + across;
        for (let x = 0; x < width; x++, to += 2) plane.data[to] = data[from++];
      }
    }
    return plane;
  });
}
