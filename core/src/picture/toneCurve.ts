/**
 * The sRGB transfer curve, both ways. Encoded and linear values are 0..1; values outside are carried on along
 * the straight or the power part, so nothing is clipped here.
 * Source: IEC 61966-2-1:1999, with the later correction of the linear limit (0.0031308, 0.04045).
 */
export function srgbDecode(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : Math.pow((encoded + 0.055) / 1.055, 2.4);
}

export function srgbEncode(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * Math.pow(linear, 1 / 2.4) - 0.055;
}

/** Linear value of each of the 65536 codes of a 16-bit sample. An 8-bit code v stands at 257 v. */
export type DecodeTable = Float32Array;

export const CODE_MAX = 65535;

export function tabulate(curve: (encoded: number) => number): DecodeTable {
  const table = new Float32Array(CODE_MAX + 1);
  for (let code = 0; code <= CODE_MAX; code++) table[code] = curve(code / CODE_MAX);
  return table;
}

/**
 * The way back: the code whose linear value is nearest. The table must never fall.
 * A coarse index by linear value narrows each search to a handful of codes.
 */
export class CodeFinder {
  private readonly start: Uint16Array;

  constructor(private readonly table: DecodeTable) {
    this.start = new Uint16Array(CODE_MAX + 2);
    let code = 0;
    for (let bucket = 0; bucket <= CODE_MAX; bucket++) {
      const value = bucket / CODE_MAX;
      while (code < CODE_MAX && table[code + 1] <= value) code++;
      this.start[bucket] = code;
    }
    this.start[CODE_MAX + 1] = CODE_MAX;
  }

  codeOf(linear: number): number {
    if (!(linear > 0)) return 0;
    if (linear >= 1) return CODE_MAX;
    const { start, table } = this;
    const bucket = Math.floor(linear * CODE_MAX);
    let low = start[bucket];
    let high = Math.min(CODE_MAX, start[bucket + 1] + 1);
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (table[middle] <= linear) low = middle;
      else high = middle;
    }
    return table[high] - linear < linear - table[low] ? high : low;
  }
}

/** Brightness of linear red, green and blue with the primaries of sRGB: Rec. ITU-R BT.709-6, item 3.2. */
export const REC709_WEIGHTS = [0.2126, 0.7152, 0.0722] as const;
