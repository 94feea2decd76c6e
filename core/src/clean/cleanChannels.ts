import type { Kernels } from '../kernels';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import type { NoiseLine } from '../read/noise';
import { stabilise, unstabilise } from './anscombe';
import { DCT_REACH } from './slidingDct';

export interface CleanOptions {
  readonly noise: readonly NoiseLine[];
  /** Share of the removed part mixed back, 0..100. */
  readonly detailKeptPercent: number;
}

const LUMINANCE_THRESHOLD = 2.7;
/** Colour noise is uglier than grain and carries little detail: it is cut harder. */
const COLOUR_THRESHOLD = 3.4;

export const CLEAN_REACH = DCT_REACH;

/**
 * Cleans linear channels: variance stabilised with the noise model, red, green and blue turned into a mean and two
 * colour differences (orthonormal, so each keeps variance 1), sliding DCT on each, and back.
 *
 * @param originX - Place of the first sample in the frame; keeps tiles and whole in step.
 */
export function cleanChannels(
  channels: Channels,
  options: CleanOptions,
  originX: number,
  originY: number,
  kernels: Kernels,
): Plane[] {
  const lines = options.noise.map(({ a, b }) => ({ a, b: Math.max(b, 1e-9) }));
  const stable = channels.map((channel, i) => mapped(channel, (value) => stabilise(value, lines[i])));
  const opponents = channels.length === 3 ? toOpponents(stable) : stable;
  const smooth = opponents.map((plane, i) =>
    kernels.slidingDct(plane, {
      sigma: 1,
      threshold: i === 0 ? LUMINANCE_THRESHOLD : COLOUR_THRESHOLD,
      originX,
      originY,
    }),
  );
  const back = channels.length === 3 ? fromOpponents(smooth) : smooth;
  const share = options.detailKeptPercent / 100;
  return back.map((plane, c) => {
    const out = createPlane(plane.width, plane.height);
    for (let i = 0; i < out.data.length; i++) {
      const clean = unstabilise(plane.data[i], lines[c]);
      out.data[i] = clean + share * (channels[c].data[i] - clean);
    }
    return out;
  });
}

function mapped(plane: Plane, change: (value: number) => number): Plane {
  return { ...plane, data: plane.data.map(change) };
}

const R3 = Math.sqrt(1 / 3);
const R2 = Math.sqrt(1 / 2);
const R6 = Math.sqrt(1 / 6);

function toOpponents([r, g, b]: readonly Plane[]): Plane[] {
  const [mean, redBlue, greenRest] = [0, 1, 2].map(() => createPlane(r.width, r.height));
  for (let i = 0; i < mean.data.length; i++) {
    mean.data[i] = R3 * (r.data[i] + g.data[i] + b.data[i]);
    redBlue.data[i] = R2 * (r.data[i] - b.data[i]);
    greenRest.data[i] = R6 * (r.data[i] - 2 * g.data[i] + b.data[i]);
  }
  return [mean, redBlue, greenRest];
}

function fromOpponents([mean, redBlue, greenRest]: readonly Plane[]): Plane[] {
  const [r, g, b] = [0, 1, 2].map(() => createPlane(mean.width, mean.height));
  for (let i = 0; i < mean.data.length; i++) {
    r.data[i] = R3 * mean.data[i] + R2 * redBlue.data[i] + R6 * greenRest.data[i];
    g.data[i] = R3 * mean.data[i] - 2 * R6 * greenRest.data[i];
    b.data[i] = R3 * mean.data[i] - R2 * redBlue.data[i] + R6 * greenRest.data[i];
  }
  return [r, g, b];
}
