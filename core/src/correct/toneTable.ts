import { srgbDecode, srgbEncode } from '../picture/toneCurve';
import { bendsCurve, type Corrections } from '../prescription/corrections';
import { monotoneCubic } from './monotoneCubic';

/** Entries up to white; brightness is looked up by its root, which is dense where eyes are keen. */
const TO_WHITE = 8192;
/** Light up to this many times white is looked up; beyond, the last slope goes on. */
const MOST = 16;

/** Brightness after black point, white point and curve, linear light to linear light. */
export class ToneTable {
  private readonly table = new Float64Array(TO_WHITE * Math.sqrt(MOST) + 2);

  constructor({ blackPercent, whitePercent, curve }: Pick<Corrections, 'blackPercent' | 'whitePercent' | 'curve'>) {
    const [black, white] = [blackPercent.value / 100, whitePercent.value / 100];
    const bend = bendsCurve(curve) ? monotoneCubic(curve) : (x: number) => x;
    for (let i = 0; i < this.table.length; i++) {
      const encoded = srgbEncode((i / TO_WHITE) ** 2);
      this.table[i] = srgbDecode(Math.max(0, bend((encoded - black) / (white - black))));
    }
  }

  /** By what linear channels of this brightness are multiplied. */
  gainOf(brightness: number): number {
    const { table } = this;
    const place = Math.sqrt(Math.max(brightness, LEAST)) * TO_WHITE;
    const at = Math.min(table.length - 2, Math.floor(place));
    return (table[at] + (place - at) * (table[at + 1] - table[at])) / Math.max(brightness, LEAST);
  }
}

/** Darker than any code of 16 bits: there the gain no longer grows. */
const LEAST = 1e-6;
