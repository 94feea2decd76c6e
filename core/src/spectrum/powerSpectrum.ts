import { createComplex, fft2d } from '../fourier/fft2d';
import type { Plane } from '../picture/plane';

/** Mean power per frequency bin of windows of one picture, scaled so that white noise of variance σ² reads σ². */
export interface PowerSpectrum {
  readonly side: number;
  readonly windows: number;
  /** side × side, FFT order. */
  readonly power: Float64Array;
}

export const WINDOW_PX = 128;
const STEP_PX = 48;
const MOST_WINDOWS = 60;
/** A place is a square of this many windows' sides. */
const PLACE_WINDOWS = 1.5;
/** A window counts where at least this share of it may be used. */
const LEAST_COVER = 0.85;

/** A spectrum and the middle of the place it was measured at. */
export interface LocalSpectrum {
  readonly x: number;
  readonly y: number;
  readonly spectrum: PowerSpectrum;
}

/**
 * Power spectra at several places: Hann windows (128 px, step 48; 64 px, step 24 where the area is too small for
 * those) that lie inside the used area and hold no clipped sample, averaged place by place because blur varies
 * with depth. Each window counts by 1 / contrast: one hard-lit corner must not speak for its surroundings. At most 60
 * windows, evenly picked.
 *
 * @param use - 0 where samples must not count. Empty where no window fits.
 */
export function localSpectra(luma: Plane, use: Plane, clipped: Uint8Array): LocalSpectrum[] {
  for (const side of [WINDOW_PX, WINDOW_PX / 2]) {
    const windows = windowsInside(luma, use, clipped, side, Math.round((STEP_PX * side) / WINDOW_PX));
    if (windows.length === 0) continue;
    const places = new Map<string, Window[]>();
    for (const window of thinned(windows)) {
      const place = `${Math.floor(window.x / (PLACE_WINDOWS * side))} ${Math.floor(window.y / (PLACE_WINDOWS * side))}`;
      places.set(place, [...(places.get(place) ?? []), window]);
    }
    return [...places.values()].map((group) => ({
      x: group.reduce((sum, window) => sum + window.x, 0) / group.length + side / 2,
      y: group.reduce((sum, window) => sum + window.y, 0) / group.length + side / 2,
      spectrum: averageWindows(luma, group, side),
    }));
  }
  return [];
}

function thinned(windows: readonly Window[]): readonly Window[] {
  if (windows.length <= MOST_WINDOWS) return windows;
  return Array.from({ length: MOST_WINDOWS }, (_, i) => windows[Math.floor((i * windows.length) / MOST_WINDOWS)]);
}

interface Window {
  readonly x: number;
  readonly y: number;
  readonly contrast: number;
}

function windowsInside(luma: Plane, use: Plane, clipped: Uint8Array, side: number, step: number): Window[] {
  const windows: Window[] = [];
  for (let y = 0; y + side <= luma.height; y += step) {
    for (let x = 0; x + side <= luma.width; x += step) {
      let used = 0;
      let white = 0;
      let sum = 0;
      let squares = 0;
      for (let row = y; row < y + side; row += 2) {
        for (let i = row * luma.width + x; i < row * luma.width + x + side; i += 2) {
          if (use.data[i] > 0.5) used++;
          if (clipped[i]) white++;
          sum += luma.data[i];
          squares += luma.data[i] * luma.data[i];
        }
      }
      const count = (side * side) / 4;
      if (used < LEAST_COVER * count || white > 0.002 * count) continue;
      windows.push({ x, y, contrast: squares / count - (sum / count) ** 2 });
    }
  }
  return windows;
}

function averageWindows(luma: Plane, windows: readonly Window[], side: number): PowerSpectrum {
  const hann = Float64Array.from({ length: side }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / side));
  const energy = hann.reduce((sum, value) => sum + value * value, 0) ** 2;
  const power = new Float64Array(side * side);
  const typical = windows.reduce((sum, window) => sum + window.contrast, 0) / windows.length;
  let weights = 0;
  for (const { x, y, contrast } of windows) {
    const say = 1 / (contrast + 0.1 * typical + 1e-9);
    weights += say;
    const piece = createComplex(side, side);
    let weighted = 0;
    let taper = 0;
    for (let row = 0; row < side; row++) {
      for (let column = 0; column < side; column++) {
        const weight = hann[row] * hann[column];
        weighted += weight * luma.data[(y + row) * luma.width + x + column];
        taper += weight;
      }
    }
    const mean = weighted / taper;
    for (let row = 0; row < side; row++) {
      for (let column = 0; column < side; column++) {
        const value = luma.data[(y + row) * luma.width + x + column] - mean;
        piece.re[row * side + column] = value * hann[row] * hann[column];
      }
    }
    fft2d(piece);
    for (let i = 0; i < power.length; i++) power[i] += say * (piece.re[i] ** 2 + piece.im[i] ** 2);
  }
  for (let i = 0; i < power.length; i++) power[i] /= weights * energy;
  return { side, windows: windows.length, power };
}

/** The mean of several places' spectra, each counting by its windows. */
export function mergeSpectra(places: readonly LocalSpectrum[]): PowerSpectrum {
  const { side } = places[0].spectrum;
  const windows = places.reduce((sum, place) => sum + place.spectrum.windows, 0);
  const power = new Float64Array(side * side);
  for (const { spectrum } of places) {
    for (let i = 0; i < power.length; i++) power[i] += (spectrum.power[i] * spectrum.windows) / windows;
  }
  return { side, windows, power };
}
