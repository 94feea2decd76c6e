import type { Plane } from '../picture/plane';
import { intersect, type Region, type Size } from '../picture/region';
import type { BayerPattern } from './cfa';
import { CODE_MAX, srgbDecode, srgbEncode } from '../picture/toneCurve';
import { demosaic, lightCode } from './demosaic';

/**
 * A picture of 16-bit codes from a sensor's mosaic: channels balanced for the light of the shot, colours filled in, cut
 * to `crop`. Linear: code = 65535 · light; a channel at 65535 is clipped. What a channel holds above white is given up,
 * because light of unlike channels above white is coloured wrongly.
 *
 * Colours are filled in on the curve of sRGB: there colours of one thing differ by about as much in light and in shade,
 * which filling in counts on.
 *
 * @param mosaic - Light 0..1, may lie a little outside.
 * @param neutral - What each channel sees of a neutral, the greatest 1.
 */
export function developMosaic(
  mosaic: Plane,
  pattern: BayerPattern,
  neutral: readonly number[],
  crop: Region,
): Uint16Array {
  const gains = neutral.map((value) => 1 / value);
  const { width, height, data } = mosaic;
  const { encoded, decoded } = curveTables();
  const balanced = new Float32Array(data.length);
  for (let y = 0, i = 0; y < height; y++) {
    const pair = [gains[pattern[(y & 1) * 2]], gains[pattern[(y & 1) * 2 + 1]]];
    for (let x = 0; x < width; x++, i++) {
      const light = Math.min(1, data[i] * pair[x & 1]);
      balanced[i] = light > 0 ? encoded[(light * STEPS + 0.5) | 0] : srgbEncode(light);
    }
  }
  const out = new Uint16Array(crop.width * crop.height * 3);
  demosaic({ width, height, data: balanced }, pattern, decoded, (tile, codes) => {
    const seen = intersect(tile, crop);
    for (let row = 0; row < seen.height; row++) {
      const from = ((seen.y - tile.y + row) * tile.width + seen.x - tile.x) * 3;
      const to = ((seen.y - crop.y + row) * crop.width + seen.x - crop.x) * 3;
      out.set(codes.subarray(from, from + 3 * seen.width), to);
    }
  });
  return out;
}

/** Steps of light that are told apart before colours are filled in: finer than any sensor's, and than a code. */
const STEPS = 2 ** 20;
let tables: { readonly encoded: Float32Array; readonly decoded: Uint16Array } | null = null;

/** sRGB's curve and its way back, code by code: made once, when the first mosaic is developed. */
function curveTables() {
  tables ??= {
    encoded: Float32Array.from({ length: STEPS + 1 }, (_, i) => srgbEncode(i / STEPS)),
    decoded: Uint16Array.from({ length: CODE_MAX + 1 }, (_, code) =>
      Math.round(srgbDecode(code / CODE_MAX) * CODE_MAX),
    ),
  };
  return tables;
}

/** The same from channels that have no mosaic, interleaved. */
export function developLinear(light: Float32Array, size: Size, neutral: readonly number[], crop: Region): Uint16Array {
  const planes = neutral.length;
  const out = new Uint16Array(crop.width * crop.height * planes);
  for (let y = 0, to = 0; y < crop.height; y++) {
    let from = ((crop.y + y) * size.width + crop.x) * planes;
    for (let x = 0; x < crop.width; x++) {
      for (let c = 0; c < planes; c++, from++, to++) out[to] = lightCode(light[from] / neutral[c]);
    }
  }
  return out;
}
