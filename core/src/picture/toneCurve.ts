import { lookUp } from './arithmetic';

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
 * Places of a CodeFinder's guesses, by the root of light: curves of cameras and screens are nearly straight over it.
 */
const PLACES = 4096;

/** What a `CodeFinder` looks codes up in. */
export interface CodeTables {
  /** lights[c + 1] is the light of code c; before and after them stands what nothing is nearer to. */
  readonly lights: Float32Array;
  /** Code, with its fraction, of the light of every place. */
  readonly guess: Float32Array;
}

/** The way back: the code whose linear value is nearest. The table must never fall. */
export class CodeFinder implements CodeTables {
  readonly lights = new Float32Array(CODE_MAX + 3);
  readonly guess = new Float32Array(PLACES + 1);

  constructor(table: DecodeTable) {
    this.lights.set(table, 1);
    this.lights[0] = -1;
    this.lights[CODE_MAX + 2] = NaN;
    for (let place = 0, code = 0; place <= PLACES; place++) {
      const value = (place / PLACES) ** 2;
      while (code < CODE_MAX - 1 && table[code + 1] <= value) code++;
      const step = table[code + 1] - table[code];
      this.guess[place] = code + (step > 0 ? Math.max(0, Math.min(1, (value - table[code]) / step)) : 0);
    }
  }

  /** Half-way between two the darker one, and of those that are alike the last. */
  codeOf(linear: number): number {
    const { guess, lights } = this;
    let code = Math.trunc(lookUp({ low: 0, perUnit: PLACES, values: guess }, Math.sqrt(linear > 0 ? linear : 0)) + 0.5);
    while (lights[code + 2] <= linear || lights[code + 2] - linear < linear - lights[code + 1]) code++;
    while (lights[code + 1] > linear && lights[code + 1] - linear >= linear - lights[code]) code--;
    return code;
  }
}

/** Brightness of linear red, green and blue with the primaries of sRGB: Rec. ITU-R BT.709-6, item 3.2. */
export const REC709_WEIGHTS = [0.2126, 0.7152, 0.0722] as const;
