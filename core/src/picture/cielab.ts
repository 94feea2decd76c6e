/** Linear sRGB to CIE XYZ, D65 (IEC 61966-2-1), row by row. */
const TO_XYZ = [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505];
/** The white of linear sRGB (1, 1, 1). */
const WHITE = [0.9505, 1, 1.089];

export interface Lab {
  readonly l: number;
  readonly a: number;
  readonly b: number;
}

/** CIE 1976 L*a*b* of linear sRGB 0..1 (values outside are taken as they are), white D65. Source: CIE 15:2004. */
export function labOf(red: number, green: number, blue: number): Lab {
  const x = bent((TO_XYZ[0] * red + TO_XYZ[1] * green + TO_XYZ[2] * blue) / WHITE[0]);
  const y = bent((TO_XYZ[3] * red + TO_XYZ[4] * green + TO_XYZ[5] * blue) / WHITE[1]);
  const z = bent((TO_XYZ[6] * red + TO_XYZ[7] * green + TO_XYZ[8] * blue) / WHITE[2]);
  return { l: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) };
}

function bent(t: number): number {
  return t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29;
}

const rad = (degrees: number) => (degrees * Math.PI) / 180;

/** Hue angle in degrees, 0 to 360; 0 for a grey. */
function hueOf(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const degrees = (Math.atan2(b, a) * 180) / Math.PI;
  return degrees < 0 ? degrees + 360 : degrees;
}

/**
 * CIEDE2000 colour difference, parametric factors 1.
 * Source: Sharma, Wu, Dalal, "The CIEDE2000 color-difference formula: implementation notes, supplementary test data,
 * and mathematical observations", Color Research & Application 30 (2005).
 */
export function ciede2000(p: Lab, q: Lab): number {
  const g = 0.5 * (1 - rotationShare((length(p.a, p.b) + length(q.a, q.b)) / 2));
  const [ap, aq] = [p.a * (1 + g), q.a * (1 + g)];
  const [cp, cq] = [length(ap, p.b), length(aq, q.b)];
  const [hp, hq] = [hueOf(ap, p.b), hueOf(aq, q.b)];
  const isGrey = cp * cq === 0;
  const turn = isGrey ? 0 : hq - hp > 180 ? hq - hp - 360 : hq - hp < -180 ? hq - hp + 360 : hq - hp;
  const dL = q.l - p.l;
  const dC = cq - cp;
  const dH = 2 * Math.sqrt(cp * cq) * Math.sin(rad(turn / 2));
  const l = (p.l + q.l) / 2;
  const c = (cp + cq) / 2;
  const sum = hp + hq;
  const h = isGrey ? sum : Math.abs(hp - hq) <= 180 ? sum / 2 : sum < 360 ? (sum + 360) / 2 : (sum - 360) / 2;
  const t =
    1 -
    0.17 * Math.cos(rad(h - 30)) +
    0.24 * Math.cos(rad(2 * h)) +
    0.32 * Math.cos(rad(3 * h + 6)) -
    0.2 * Math.cos(rad(4 * h - 63));
  const sL = 1 + (0.015 * (l - 50) ** 2) / Math.sqrt(20 + (l - 50) ** 2);
  const sC = 1 + 0.045 * c;
  const sH = 1 + 0.015 * c * t;
  const rotation = -Math.sin(rad(60 * Math.exp(-(((h - 275) / 25) ** 2)))) * 2 * rotationShare(c);
  return Math.sqrt((dL / sL) ** 2 + (dC / sC) ** 2 + (dH / sH) ** 2 + rotation * (dC / sC) * (dH / sH));
}

/** √(c⁷ / (c⁷ + 25⁷)). */
function rotationShare(chroma: number): number {
  const cube = chroma * chroma * chroma;
  const power = cube * cube * chroma;
  return Math.sqrt(power / (power + TWENTY_FIVE_TO_7));
}

const TWENTY_FIVE_TO_7 = 25 ** 7;

/** Math.hypot guards against sizes that colours do not have, and is many times slower. */
function length(a: number, b: number): number {
  return Math.sqrt(a * a + b * b);
}
