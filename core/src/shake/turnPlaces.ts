import { cropPlane, croppedFlags } from '../picture/crop';
import type { Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import { localSpectra, mergeSpectra } from '../spectrum/powerSpectrum';
import { samplesOf, type SpectrumSamples } from '../spectrum/spectralFit';

/** In a smaller area a turn hardly shows. */
const LEAST_AREA_PX = 600;
/** Columns and rows of places, each measured in a square of at most so many px. */
const ACROSS = 3;
const MOST_SIDE_PX = 450;
const LEAST_PLACES = 5;

/** A place of the used area and its spectrum. */
export interface TurnPlace {
  readonly x: number;
  readonly y: number;
  readonly samples: SpectrumSamples;
}

/**
 * The places whose spectra tell whether the camera turned: 3 × 3 over the area, without those where nothing can be
 * measured.
 *
 * @param highest - Frequency that is looked at, cycles per px.
 * @returns Empty where the area is too small.
 */
export function turnPlaces(luma: Plane, use: Plane, clipped: Uint8Array, highest: number): TurnPlace[] {
  const { width, height } = luma;
  if (Math.max(width, height) < LEAST_AREA_PX) return [];
  const side = Math.min(MOST_SIDE_PX, Math.ceil(Math.max(width, height) / ACROSS));
  const middles = Array.from({ length: ACROSS * ACROSS }, (_, i) => ({
    x: (((i % ACROSS) + 0.5) * width) / ACROSS,
    y: ((Math.floor(i / ACROSS) + 0.5) * height) / ACROSS,
  }));
  const places = middles.flatMap(({ x, y }) => {
    const place = squareAround(luma, x, y, side);
    const samples = samplesIn(place, luma, use, clipped, highest);
    return samples ? [{ x: place.x + place.width / 2, y: place.y + place.height / 2, samples }] : [];
  });
  return places.length < LEAST_PLACES ? [] : places;
}

/** The square of a side, its middle as near to a place as the plane allows; cut where the plane is smaller. */
export function squareAround(plane: Plane, x: number, y: number, side: number): Region {
  const [width, height] = [Math.min(side, plane.width), Math.min(side, plane.height)];
  const within = (middle: number, length: number, most: number) =>
    Math.max(0, Math.min(most - length, Math.round(middle - length / 2)));
  return { x: within(x, width, plane.width), y: within(y, height, plane.height), width, height };
}

/** The spectrum of a part of the picture; null where nothing in it can be measured. */
export function samplesIn(
  part: Region,
  luma: Plane,
  use: Plane,
  clipped: Uint8Array,
  highest: number,
): SpectrumSamples | null {
  const white = croppedFlags(clipped, luma.width, part);
  const spectra = localSpectra(cropPlane(luma, part), cropPlane(use, part), white);
  return spectra.length > 0 ? samplesOf(mergeSpectra(spectra), highest, 1) : null;
}
