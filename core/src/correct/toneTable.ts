import { lookedUp, rooted } from '../picture/arithmetic';
import type { Plane } from '../picture/plane';
import { srgbDecode, srgbEncode } from '../picture/toneCurve';
import { bendsCurve, type Corrections } from '../prescription/corrections';
import { monotoneCubic } from './monotoneCubic';

/** Entries up to white; brightness is looked up by its root, which is dense where eyes are keen. */
const TO_WHITE = 8192;
/** Light up to this many times white is looked up. */
const MOST = 16;

/** Brightness after black point, white point and curve, linear light to linear light. */
export class ToneTable {
  private readonly values = new Float32Array(TO_WHITE * Math.sqrt(MOST) + 1);

  constructor({ blackPercent, whitePercent, curve }: Pick<Corrections, 'blackPercent' | 'whitePercent' | 'curve'>) {
    const [black, white] = [blackPercent.value / 100, whitePercent.value / 100];
    const bend = bendsCurve(curve) ? monotoneCubic(curve) : (x: number) => x;
    for (let i = 0; i < this.values.length; i++) {
      const encoded = srgbEncode((i / TO_WHITE) ** 2);
      this.values[i] = srgbDecode(Math.max(0, bend((encoded - black) / (white - black))));
    }
  }

  /** By what linear channels of this brightness are multiplied; brighter than `MOST` times white as that. */
  gainsOf(brightness: Plane): Plane {
    const held = { ...brightness, data: brightness.data.map((value) => (value > LEAST ? value : LEAST)) };
    const out = lookedUp(rooted(held, 1, 0, 1), { low: 0, perUnit: TO_WHITE, values: this.values });
    for (let i = 0; i < out.data.length; i++) out.data[i] /= held.data[i];
    return out;
  }
}

/** Darker than any code of 16 bits: there the gain no longer grows. */
const LEAST = 1e-6;
