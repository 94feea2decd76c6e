import { ciede2000, labOf, type Lab } from '../picture/cielab';
import { gaussianBlur } from '../picture/gaussianBlur';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';

/**
 * CIEDE2000 between original and result, both smoothed past the blur (recovery must not move a local mean colour), and
 * of hue alone at half that smoothing, so that an iris is not averaged away; the larger of both, one value per square
 * of `stride` samples.
 *
 * @param spread - The blur's standard deviation along an axis, px. The result may be smoothed by as much more, as the
 *   photograph was: the smaller difference counts.
 * @param toLinearSrgb - Row by row; null for grey, which has no colour to drift but its tone.
 */
export function colourDrift(
  original: Channels,
  result: Channels,
  blurPx: number,
  spread: number,
  toLinearSrgb: readonly number[] | null,
  stride: number,
): Plane {
  const sigma = Math.max(1.5, 0.75 * blurPx);
  const small = [original, result].map((channels) => channels.map((plane) => shrunk(plane, stride)));
  const labsAt = (which: number, own: number) => labsOf(small[which], own / stride, toLinearSrgb);
  const driftAt = (own: number, differ: (p: Lab, q: Lab) => number) => {
    const before = labsAt(0, own);
    const after = labsAt(1, own);
    const again = labsAt(1, Math.hypot(own, spread));
    return before.map((lab, i) => Math.min(differ(lab, after[i]), differ(lab, again[i])));
  };
  const whole = driftAt(sigma, ciede2000);
  const hue = driftAt(sigma / 2, hueDrift);
  const out = createPlane(small[0][0].width, small[0][0].height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = Math.max(whole[i], hue[i]);
  return out;
}

/** CIEDE2000 that is left when lightness and chroma are made equal. */
function hueDrift(p: Lab, q: Lab): number {
  const [cp, cq] = [Math.sqrt(p.a * p.a + p.b * p.b), Math.sqrt(q.a * q.a + q.b * q.b)];
  if (cp < 1e-6 || cq < 1e-6) return 0;
  const l = (p.l + q.l) / 2;
  // Of two greys the hue is noise: the weaker chroma speaks.
  const c = Math.min(cp, cq);
  return ciede2000({ l, a: (p.a * c) / cp, b: (p.b * c) / cp }, { l, a: (q.a * c) / cq, b: (q.b * c) / cq });
}

/** Means over squares, of values clipped to 0..1 as they are published; the last squares may be narrower. */
function shrunk({ width, height, data }: Plane, by: number): Plane {
  const out = createPlane(Math.ceil(width / by), Math.ceil(height / by));
  for (let top = 0, to = 0; top < height; top += by) {
    const bottom = Math.min(height, top + by);
    for (let left = 0; left < width; left += by, to++) {
      const right = Math.min(width, left + by);
      let sum = 0;
      for (let y = top; y < bottom; y++) {
        for (let i = y * width + left; i < y * width + right; i++) sum += Math.min(1, Math.max(0, data[i]));
      }
      out.data[to] = sum / ((bottom - top) * (right - left));
    }
  }
  return out;
}

function labsOf(channels: Channels, sigma: number, m: readonly number[] | null): Lab[] {
  const smooth = channels.map((plane) => gaussianBlur(plane, Math.max(0.3, sigma)).data);
  const [r, g, b] = smooth.length === 1 ? [smooth[0], smooth[0], smooth[0]] : smooth;
  const labs: Lab[] = [];
  for (let i = 0; i < r.length; i++) {
    labs.push(
      m
        ? labOf(
            m[0] * r[i] + m[1] * g[i] + m[2] * b[i],
            m[3] * r[i] + m[4] * g[i] + m[5] * b[i],
            m[6] * r[i] + m[7] * g[i] + m[8] * b[i],
          )
        : labOf(r[i], g[i], b[i]),
    );
  }
  return labs;
}
