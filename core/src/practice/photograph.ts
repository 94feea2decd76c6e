import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import { createComplex, fft2d, inverseFft2d } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import { transferFunction } from '../psf/transfer';
import { reachOf, type Psf } from '../psf/psf';
import type { NoiseLine } from '../noise/noise';
import type { SeededRandom } from '../seededRandom';

/**
 * "Photographs" a known sharp picture: blurs every channel with the point spread function in linear light. The picture
 * shrinks by the reach on each side, so that every sample left was blurred from true neighbours.
 */
export function blurred(scene: Channels, psf: Psf, border: number): Plane[] {
  if (border < reachOf(psf)) throw new RangeError('the border must hold the reach of the point spread function');
  return scene.map((plane) => inner(convolved(plane, psf), border));
}

/** The scene as a sharp camera sees it: the same crop, nothing blurred. */
export function inner(plane: Plane, border: number): Plane {
  const out = createPlane(plane.width - 2 * border, plane.height - 2 * border);
  for (let y = 0; y < out.height; y++) {
    const from = (y + border) * plane.width + border;
    out.data.set(plane.data.subarray(from, from + out.width), y * out.width);
  }
  return out;
}

function convolved(plane: Plane, psf: Psf): Plane {
  const width = fastLength(plane.width);
  const height = fastLength(plane.height);
  const piece = createComplex(width, height);
  for (let y = 0; y < plane.height; y++) {
    piece.re.set(plane.data.subarray(y * plane.width, (y + 1) * plane.width), y * width);
  }
  const otf = transferFunction(psf, width, height);
  fft2d(piece);
  for (let i = 0; i < piece.re.length; i++) {
    const re = piece.re[i];
    piece.re[i] = re * otf.re[i] - piece.im[i] * otf.im[i];
    piece.im[i] = re * otf.im[i] + piece.im[i] * otf.re[i];
  }
  inverseFft2d(piece);
  const out = createPlane(plane.width, plane.height);
  for (let y = 0; y < plane.height; y++) {
    out.data.set(piece.re.subarray(y * width, y * width + plane.width), y * plane.width);
  }
  return out;
}

/** Adds noise of variance a·y + b (one line per channel) and clips at black and white as a sensor does. */
export function exposed(channels: Channels, noise: readonly NoiseLine[], random: SeededRandom): Plane[] {
  return channels.map((plane, c) => ({
    ...plane,
    data: plane.data.map((value) => {
      const sigma = Math.sqrt(noise[c].a * Math.max(0, value) + noise[c].b);
      return Math.min(1, Math.max(0, value + sigma * random.normal()));
    }),
  }));
}

/**
 * A subject that moved over a still background: (1 − k⊗α)·background + k⊗(α·subject), subject and background from the
 * same scene, α the subject's sharp coverage 0..1.
 */
export function subjectBlurred(scene: Channels, coverage: Plane, psf: Psf, border: number): Plane[] {
  const covered = inner(convolved(coverage, psf), border);
  return scene.map((plane) => {
    const subject = { ...plane, data: plane.data.map((value, i) => value * coverage.data[i]) };
    const moved = inner(convolved(subject, psf), border);
    const still = inner(plane, border);
    return { ...moved, data: moved.data.map((value, i) => value + (1 - covered.data[i]) * still.data[i]) };
  });
}
