interface Wish {
  /** Of each px: two as cameras write the columns of a mosaic, three for colours. */
  readonly components?: number;
  /** 1 to 7. */
  readonly predictor?: number;
  /** After so many rows it begins anew; 0: never. */
  readonly restartRows?: number;
}

/**
 * Lossless JPEG of interleaved components, one table of 17 categories with codes of eight bits.
 *
 * @param width - Samples in a row, all components together.
 * Source: ITU-T T.81 (1992), annex H and C.2.
 */
export function losslessJpeg(
  samples: Uint16Array,
  width: number,
  height: number,
  bits: number,
  { components = 2, predictor = 1, restartRows = 0 }: Wish = {},
): Buffer {
  const bytes: number[] = [];
  const word = (value: number) => bytes.push(value >> 8, value & 255);
  const all = Array.from({ length: components }, (_, c) => c);
  word(0xffd8);
  word(0xffc4);
  word(2 + 1 + 16 + 17);
  bytes.push(0, ...[0, 0, 0, 0, 0, 0, 0, 17, 0, 0, 0, 0, 0, 0, 0, 0], ...Array.from({ length: 17 }, (_, i) => i));
  if (restartRows > 0) {
    word(0xffdd);
    word(4);
    word((restartRows * width) / components);
  }
  word(0xffc3);
  word(8 + 3 * components);
  bytes.push(bits);
  word(height);
  word(width / components);
  bytes.push(components, ...all.flatMap((c) => [c, 0x11, 0]));
  word(0xffda);
  word(6 + 2 * components);
  bytes.push(components, ...all.flatMap((c) => [c, 0]), predictor, 0, 0);
  let held = 0;
  let count = 0;
  const put = (value: number, length: number) => {
    for (let bit = length - 1; bit >= 0; bit--) {
      held = (held << 1) | ((value >> bit) & 1);
      if (++count < 8) continue;
      bytes.push(held);
      if (held === 0xff) bytes.push(0);
      held = count = 0;
    }
  };
  const guess = (i: number, x: number, y: number) => {
    const [left, above, corner] = [samples[i - components], samples[i - width], samples[i - width - components]];
    const isFirst = restartRows > 0 ? y % restartRows === 0 : y === 0;
    if (x < components) return isFirst ? 1 << (bits - 1) : above;
    if (isFirst) return left;
    return [
      left,
      above,
      corner,
      left + above - corner,
      left + ((above - corner) >> 1),
      above + ((left - corner) >> 1),
      (left + above) >> 1,
    ][predictor - 1];
  };
  const restart = (times: number) => {
    if (count > 0) put(-1, 8 - count);
    word(0xffd0 + ((times - 1) % 8));
  };
  for (let y = 0, i = 0; y < height; y++) {
    if (restartRows > 0 && y > 0 && y % restartRows === 0) restart(y / restartRows);
    for (let x = 0; x < width; x++, i++) {
      const difference = samples[i] - guess(i, x, y);
      const category = difference === 0 ? 0 : 32 - Math.clz32(Math.abs(difference));
      put(category, 8);
      if (category > 0 && category < 16) put(difference > 0 ? difference : difference + (1 << category) - 1, category);
    }
  }
  if (count > 0) put(-1, 8 - count);
  word(0xffd9);
  return Buffer.from(bytes);
}
