/**
 * Lossless JPEG of two interleaved components, as cameras write the columns of a mosaic: predictor 1, one table of 17
 * categories with codes of eight bits.
 * Source: ITU-T T.81 (1992), annex H and C.2.
 */
export function losslessJpeg(samples: Uint16Array, width: number, height: number, bits: number): Buffer {
  const across = width / 2;
  const bytes: number[] = [];
  const word = (value: number) => bytes.push(value >> 8, value & 255);
  word(0xffd8);
  word(0xffc4);
  word(2 + 1 + 16 + 17);
  bytes.push(0, ...[0, 0, 0, 0, 0, 0, 0, 17, 0, 0, 0, 0, 0, 0, 0, 0], ...Array.from({ length: 17 }, (_, i) => i));
  word(0xffc3);
  word(8 + 3 * 2);
  bytes.push(bits);
  word(height);
  word(across);
  bytes.push(2, 0, 0x11, 0, 1, 0x11, 0);
  word(0xffda);
  word(6 + 2 * 2);
  bytes.push(2, 0, 0, 1, 0, 1, 0, 0);
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
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < across; x++) {
      for (let c = 0; c < 2; c++) {
        const i = y * width + 2 * x + c;
        const predicted = x > 0 ? samples[i - 2] : y > 0 ? samples[i - width] : 1 << (bits - 1);
        const difference = samples[i] - predicted;
        const category = difference === 0 ? 0 : 32 - Math.clz32(Math.abs(difference));
        put(category, 8);
        if (category > 0 && category < 16)
          put(difference > 0 ? difference : difference + (1 << category) - 1, category);
      }
    }
  }
  if (count > 0) put(-1, 8 - count);
  word(0xffd9);
  return Buffer.from(bytes);
}
