import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';

/**
 * What a sensor with a colour mosaic makes of three channels: of each sample one channel is kept (red at even rows and
 * columns, blue at odd ones, green else), the others are filled in from their neighbours. Borders are mirrored.
 *
 * Source: Malvar, He, Cutler, "High-quality linear interpolation for demosaicing of Bayer-patterned color images",
 * ICASSP 2004.
 */
export function throughMosaic(channels: Channels): Plane[] {
  const [{ width, height }] = channels;
  const colourAt = (x: number, y: number) => (x & 1) + (y & 1);
  const kept = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) kept[i] = channels[colourAt(x, y)].data[i];
  }
  const mirrored = (at: number, length: number) => (at < 0 ? -at : at >= length ? 2 * length - 2 - at : at);
  const out = channels.map((plane) => ({ ...plane, data: new Float32Array(width * height) }));
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const at = (dx: number, dy: number) => kept[mirrored(y + dy, height) * width + mirrored(x + dx, width)];
      const cross = at(-1, 0) + at(1, 0) + at(0, -1) + at(0, 1);
      const far = at(-2, 0) + at(2, 0) + at(0, -2) + at(0, 2);
      const corners = at(-1, -1) + at(1, -1) + at(-1, 1) + at(1, 1);
      const own = colourAt(x, y);
      const here = kept[i];
      if (own !== 1) {
        out[own].data[i] = here;
        out[1].data[i] = (4 * here + 2 * cross - far) / 8;
        out[2 - own].data[i] = (6 * here + 2 * corners - 1.5 * far) / 8;
        continue;
      }
      const beside =
        (5 * here + 4 * (at(-1, 0) + at(1, 0)) - corners - (at(-2, 0) + at(2, 0)) + (at(0, -2) + at(0, 2)) / 2) / 8;
      const above =
        (5 * here + 4 * (at(0, -1) + at(0, 1)) - corners - (at(0, -2) + at(0, 2)) + (at(-2, 0) + at(2, 0)) / 2) / 8;
      out[1].data[i] = here;
      // In even rows red lies beside, in odd rows blue.
      out[0].data[i] = (y & 1) === 0 ? beside : above;
      out[2].data[i] = (y & 1) === 0 ? above : beside;
    }
  }
  return out;
}
