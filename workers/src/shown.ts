import {
  CODE_MAX,
  createPlane,
  srgbDecode,
  srgbEncode,
  type ColourSpace,
  type Plane,
  type Size,
} from '@vitrocept/core';

/** 8-bit sRGB code of 4096 linear steps, by nearest value: enough for the eye, never written to a file. */
const STEPS = 4096;
const encodeTable = Uint8ClampedArray.from({ length: STEPS + 1 }, (_, i) => Math.round(255 * srgbEncode(i / STEPS)));
const byteOfCode = Uint8ClampedArray.from({ length: CODE_MAX + 1 }, (_, code) => Math.round(code / 257));

/** Codes of the frame's own colour space as opaque sRGB pixels. sRGB codes pass through as they are. */
export function shownPixels(codes: Uint16Array, space: ColourSpace, isSrgb: boolean): Uint8ClampedArray<ArrayBuffer> {
  const count = codes.length / space.channels;
  const rgba = new Uint8ClampedArray(count * 4);
  const m = space.toLinearSrgb;
  if (!m || isSrgb) {
    const [green, blue] = m ? [1, 2] : [0, 0];
    for (let at = 0, from = 0; at < rgba.length; at += 4, from += space.channels) {
      rgba[at] = byteOfCode[codes[from]];
      rgba[at + 1] = byteOfCode[codes[from + green]];
      rgba[at + 2] = byteOfCode[codes[from + blue]];
      rgba[at + 3] = 255;
    }
    return rgba;
  }
  for (let i = 0; i < count; i++) {
    const at = i * 4;
    rgba[at + 3] = 255;
    const [r, g, b] = [0, 1, 2].map((c) => space.decode[c][codes[i * 3 + c]]);
    for (let c = 0; c < 3; c++) {
      const linear = m[c * 3] * r + m[c * 3 + 1] * g + m[c * 3 + 2] * b;
      rgba[at + c] = encodeTable[Math.round(Math.min(1, Math.max(0, linear)) * STEPS)];
    }
  }
  return rgba;
}

/** Linear sRGB as opaque pixels. */
export function shownLinear(channels: readonly Plane[]): Uint8ClampedArray<ArrayBuffer> {
  const [red, green, blue] = (channels.length === 1 ? [channels[0], channels[0], channels[0]] : channels).map(
    ({ data }) => data,
  );
  const rgba = new Uint8ClampedArray(red.length * 4);
  for (let i = 0, at = 0; i < red.length; i++, at += 4) {
    rgba[at] = shownCode(red[i]);
    rgba[at + 1] = shownCode(green[i]);
    rgba[at + 2] = shownCode(blue[i]);
    rgba[at + 3] = 255;
  }
  return rgba;
}

/** 8-bit sRGB code of a linear value; a slider waits for millions of them. */
export function shownCode(value: number): number {
  // Not a number counts as black.
  return value >= 1 ? 255 : value > 0 ? encodeTable[(value * STEPS + 0.5) | 0] : 0;
}

/** Width of a line of the hatch and of the gap beside it, px. */
const HATCH_PX = 3;

/** Hatches what clips, from left below to right above where it is white, the other way where it is black. */
export function clippingHatched(rgba: Uint8ClampedArray, channels: readonly Plane[]): void {
  const { width, height } = channels[0];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const isWhite = channels.some(({ data }) => data[i] >= 1);
      if (!isWhite && !channels.every(({ data }) => data[i] <= 0)) continue;
      const along = isWhite ? x + y : x - y + height * 2 * HATCH_PX;
      rgba.fill(Math.floor(along / HATCH_PX) % 2 === 0 ? 0 : 255, 4 * i, 4 * i + 3);
    }
  }
}

const decodeTable = Float32Array.from({ length: 256 }, (_, code) => srgbDecode(code / 255));

/** Shown pixels back in linear sRGB. */
export function linearOf(rgba: Uint8ClampedArray, { width, height }: Size): Plane[] {
  return [0, 1, 2].map((c) => {
    const plane = createPlane(width, height);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = decodeTable[rgba[4 * i + c]];
    return plane;
  });
}

/** How much larger than itself the removed part is drawn. */
const REMOVED_GAIN = 4;
const MIDDLE_GREY = 128;

/** What was removed, four times larger, round a middle grey: 16-bit codes to rgba. */
export function removedPixels(
  original: Uint16Array,
  cleaned: Uint16Array,
  channels: 1 | 3,
): Uint8ClampedArray<ArrayBuffer> {
  const pixels = new Uint8ClampedArray((original.length / channels) * 4);
  for (let i = 0, at = 0; at < pixels.length; i += channels, at += 4) {
    for (let c = 0; c < 3; c++) {
      const from = i + (channels === 3 ? c : 0);
      pixels[at + c] = MIDDLE_GREY + (REMOVED_GAIN * (original[from] - cleaned[from])) / 257;
    }
    pixels[at + 3] = 255;
  }
  return pixels;
}
