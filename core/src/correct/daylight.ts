/** CIE 1931 chromaticity. */
export interface Chromaticity {
  readonly x: number;
  readonly y: number;
}

/** Below this no daylight is defined. */
const DAYLIGHT_FROM = 4000;
/** From here up daylight's place beside Planck's locus is taken over, so that nothing jumps. */
const PLANCK_UP_TO = 3000;
/** Δuv of greenMagenta 100: about what a fluorescent tube is off. Common practice, no source. */
const MOST_DUV = 0.03;

/**
 * Chromaticity of daylight of a correlated colour temperature.
 * Source: CIE 15:2004, D series, 4000–25000 K.
 */
export function daylight(kelvin: number): Chromaticity {
  const [a, b, c, d] =
    kelvin <= 7000 ? [-4.607e9, 2.9678e6, 0.09911e3, 0.244063] : [-2.0064e9, 1.9018e6, 0.24748e3, 0.23704];
  const x = a / kelvin ** 3 + b / kelvin ** 2 + c / kelvin + d;
  return { x, y: -3 * x * x + 2.87 * x - 0.275 };
}

/** CIE 1960 UCS, in which distances from the locus are told. */
interface Ucs {
  readonly u: number;
  readonly v: number;
}

const toUcs = ({ x, y }: Chromaticity): Ucs => {
  const d = -2 * x + 12 * y + 3;
  return { u: (4 * x) / d, v: (6 * y) / d };
};
const fromUcs = ({ u, v }: Ucs): Chromaticity => {
  const d = 2 * u - 8 * v + 4;
  return { x: (3 * u) / d, y: (2 * v) / d };
};

/** Planck's locus, 1000–15000 K. Source: Krystek, Color Research & Application 10 (1985). */
function planck(kelvin: number): Ucs {
  const t = kelvin;
  return {
    u: (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t),
    v: (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t),
  };
}

function locus(kelvin: number): Ucs {
  if (kelvin >= DAYLIGHT_FROM) return toUcs(daylight(kelvin));
  const [day, hot, own] = [toUcs(daylight(DAYLIGHT_FROM)), planck(DAYLIGHT_FROM), planck(kelvin)];
  const share = Math.max(0, (kelvin - PLANCK_UP_TO) / (DAYLIGHT_FROM - PLANCK_UP_TO));
  return { u: own.u + share * (day.u - hot.u), v: own.v + share * (day.v - hot.v) };
}

/**
 * Chromaticity of a light: daylight, below 4000 K a glowing body, moved across the locus towards green or magenta.
 *
 * @param kelvin - 2000..25000.
 * @param greenMagenta - −100..100; above 0 the light is greener.
 */
export function lightOf(kelvin: number, greenMagenta: number): Chromaticity {
  const at = locus(kelvin);
  if (greenMagenta === 0) return fromUcs(at);
  const [cold, warm] = [locus(kelvin * 1.01), locus(kelvin / 1.01)];
  const [du, dv] = [warm.u - cold.u, warm.v - cold.v];
  const far = (MOST_DUV * greenMagenta) / 100 / Math.hypot(du, dv);
  // Across the locus, to the side of greater v: green.
  return fromUcs({ u: at.u - far * dv, v: at.v + far * du });
}
