import { gaussianBlur } from '../picture/gaussianBlur';
import { keptWith } from '../picture/kept';
import { createPlane, type Plane } from '../picture/plane';
import { boxMean } from '../picture/boxMean';
import { keptLocalNoise } from '../noise/localNoise';
import { keptRange, neighbourhoodRange } from '../picture/neighbourhoodRange';

/** How far beyond the steepest slope that the blur allows: legitimate fine texture reaches about twice. */
const MARGIN = 2;
/** A slope counts from this many times the noise. */
const LEAST_SLOPE_SIGMAS = 7;
/** A steep sample counts where this share of the square around it is steep too. */
const LEAST_COMPANY = 0.12;
const COMPANY_REACH = 4;
/** px around such a slope that are left out with it. */
const REACH = 2;

/**
 * Where the photograph is sharper than a missed focus of `diameterPx` can be: a whisker in focus before a soft cheek.
 * An edge of height h seen through a disc of diameter D rises by at most 4·h/(π·D) a px (the disc's chord is D, its
 * area π·D²/4); what rises more than twice as fast was not blurred so. Returns 1 there, softly falling to 0, or null.
 *
 * @param luma - Must never change.
 */
export function tooSharpFor(diameterPx: number, luma: Plane, clipped: Uint8Array): Plane | null {
  const range = keptRange(luma, Math.max(2, Math.round(diameterPx / 2)));
  const steepest = (MARGIN * 4) / (Math.PI * diameterPx);
  const [low, high, slopes] = [range.low.data, range.high.data, keptSlopes(luma).data];
  // Clipping cuts a soft rise off and leaves its steep flank.
  const white = clipped.includes(1)
    ? neighbourhoodRange({ ...luma, data: Float32Array.from(clipped) }, REACH + 1).high.data
    : null;
  const steep = createPlane(luma.width, luma.height);
  let any = false;
  for (let i = 0; i < slopes.length; i++) {
    if (slopes[i] === 0 || slopes[i] < steepest * (high[i] - low[i]) || (white && white[i] > 0)) continue;
    steep.data[i] = 1;
    any = true;
  }
  // Grain is steep here and there; an edge is steep along its length.
  if (!any) return null;
  const share = boxMean(steep, COMPANY_REACH);
  const found = {
    ...steep,
    data: steep.data.map((value, i) => (value === 1 && share.data[i] >= LEAST_COMPANY ? 1 : 0)),
  };
  return found.data.includes(1) ? gaussianBlur(neighbourhoodRange(found, REACH).high, 0.8) : null;
}

/**
 * How far a sample differs from the most different of its four neighbours, where that stands out from the noise; else
 * 0.
 */
function keptSlopes(luma: Plane): Plane {
  return keptWith(luma, 'slopes', () => {
    const { width, height, data } = luma;
    const local = keptLocalNoise(luma).data;
    const slopes = createPlane(width, height);
    for (let y = 1; y < height - 1; y++) {
      for (let i = y * width + 1; i < (y + 1) * width - 1; i++) {
        const here = data[i];
        const across = Math.max(Math.abs(data[i + 1] - here), Math.abs(here - data[i - 1]));
        const down = Math.max(Math.abs(data[i + width] - here), Math.abs(here - data[i - width]));
        const slope = Math.max(across, down);
        if (slope >= LEAST_SLOPE_SIGMAS * Math.sqrt(local[i] + 1e-6)) slopes.data[i] = slope;
      }
    }
    return slopes;
  });
}
