import { ciede2000, labOf, type Lab } from '../picture/cielab';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { REC709_WEIGHTS, srgbEncode } from '../picture/toneCurve';
import { guidedFilter } from './guidedFilter';
import type { Handles } from './maskOperation';
import { detailOf } from './subjectFeatures';

/** 0 up to the first handle, 1 between the second and the third, 0 from the fourth; straight between. */
export function trapezoid(value: number, [a, b, c, d]: Handles): number {
  if (value >= b && value <= c) return 1;
  if (value <= a || value >= d) return 0;
  return value < b ? (value - a) / (b - a) : (d - value) / (d - c);
}

/** Coverage of a tone band. @param picture - Linear sRGB. */
export function toneRange(picture: Channels, band: Handles): Plane {
  const { width, height } = picture[0];
  return { width, height, data: encodedLuma(picture).map((value) => trapezoid(value, band)) };
}

function encodedLuma([red, green = red, blue = red]: Channels): Float32Array {
  return red.data.map((r, i) =>
    srgbEncode(
      Math.min(
        1,
        Math.max(0, REC709_WEIGHTS[0] * r + REC709_WEIGHTS[1] * green.data[i] + REC709_WEIGHTS[2] * blue.data[i]),
      ),
    ),
  );
}

/** Shares of the frame between whose detail sharpness runs from 0 to 1. */
const SOFTEST = 0.05;
const SHARPEST = 0.995;
const REACH_SHARE = 0.006;
const STIFFNESS = 2e-3;

/**
 * Sharpness of every place, 0 the softest of the frame, 1 its sharpest: logarithm of its fine detail, laid along the
 * picture's own borders. A smooth surface counts as soft though it may be in focus.
 *
 * @param picture - Linear sRGB.
 */
export function sharpnessOf(picture: Channels): Plane {
  const { width, height } = picture[0];
  const light = encodedLuma(picture);
  const detail = detailOf({ width, height, data: light }).map((value) => Math.log(value + 1e-9));
  const sorted = Float32Array.from(detail).sort();
  const low = sorted[Math.floor(SOFTEST * (sorted.length - 1))];
  const high = sorted[Math.floor(SHARPEST * (sorted.length - 1))];
  const range = Math.max(1e-6, high - low);
  const level = detail.map((value) => Math.min(1, Math.max(0, (value - low) / range)));
  const guide = { width, height, data: light };
  const reach = Math.max(2, Math.round(REACH_SHARE * Math.max(width, height)));
  return guidedFilter({ width, height, data: level }, [guide, guide, guide], reach, STIFFNESS);
}

/** Coverage of a focus range. @param picture - Linear sRGB. */
export function focusRange(picture: Channels, band: Handles): Plane {
  const sharpness = sharpnessOf(picture);
  return { ...sharpness, data: sharpness.data.map((value) => trapezoid(Math.min(1, Math.max(0, value)), band)) };
}

/** Half a colour range is wholly covered; from there it falls. */
const FULL_SHARE = 0.5;

/** Coverage of colours within `tolerance` ΔE00 of `picked`. @param picture - Linear sRGB. */
export function colourRange([red, green = red, blue = red]: Channels, picked: Lab, tolerance: number): Plane {
  const out = createPlane(red.width, red.height);
  const band: Handles = [-2, -1, FULL_SHARE * tolerance, tolerance];
  for (let i = 0; i < out.data.length; i++) {
    const lab = labOf(red.data[i], green.data[i], blue.data[i]);
    // ΔE00 is never below a third of what differs in lightness alone: most places need no more.
    out.data[i] = Math.abs(lab.l - picked.l) > 3 * tolerance ? 0 : trapezoid(ciede2000(lab, picked), band);
  }
  return out;
}

const PICK_REACH = 2;

/** Mean colour of 5 × 5 samples round a place. @param picture - Linear sRGB. */
export function colourAt([red, green = red, blue = red]: Channels, x: number, y: number): Lab {
  const sums = [0, 0, 0];
  let count = 0;
  for (let v = Math.max(0, y - PICK_REACH); v <= Math.min(red.height - 1, y + PICK_REACH); v++) {
    for (let u = Math.max(0, x - PICK_REACH); u <= Math.min(red.width - 1, x + PICK_REACH); u++) {
      const i = v * red.width + u;
      [red, green, blue].forEach(({ data }, c) => (sums[c] += data[i]));
      count++;
    }
  }
  const [r, g, b] = sums.map((sum) => sum / count);
  return labOf(r, g, b);
}
