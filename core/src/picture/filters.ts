import type { GridAxis } from './onGrid';
import type { Plane } from './plane';
import type { Size } from './region';
import type { LineSpans } from './shrunk';
import type { CodeTables } from './toneCurve';

/** The part of a plane that is drawn anew, by its corner and the side of a new sample, px of the plane. */
export interface Cover extends Size {
  readonly x: number;
  readonly y: number;
  readonly stepX: number;
  readonly stepY: number;
}

/** A variance that grows with the tones of the channels: base + Σ (linear · t + rooted · t√t), t ≥ 0. */
export interface ToneVariance {
  readonly base: number;
  /** One a channel each. */
  readonly linear: readonly number[];
  readonly rooted: readonly number[];
}

/** A curve by its values at even places: the first at `low`, `perUnit` of them in every unit after. */
export interface EvenTable {
  readonly low: number;
  readonly perUnit: number;
  readonly values: Float32Array;
}

/**
 * Frequencies of a spectrum in single precision: columns of `pitch` floats, a multiple of four, `count` of them meant.
 */
export interface SpectrumTable {
  readonly count: number;
  readonly pitch: number;
  /** The basis without its first column, what the sharpest camera leaves, ln of the power. */
  readonly columns: Float32Array;
}

/** The normal equations of a spectral fit, seven unknowns, upper triangle row by row, and the sum of its losses. */
export interface SpectralSums {
  readonly cost: number;
  readonly normal: Float64Array;
  readonly right: Float64Array;
}

/**
 * Filters and arithmetic that a host may bring in faster form. They give the same bits as the plain ones, so nothing
 * depends on which of them ran; all but `spectralSums`, which sums in single precision, to a part in a hundred
 * thousand.
 */
export interface Filters {
  gaussianBlur(plane: Plane, sigmaPx: number): Plane;
  boxMean(plane: Plane, reach: number): Plane;
  neighbourhoodRange(plane: Plane, reach: number): { low: Plane; high: Plane };
  localNoise(plane: Plane): Plane;
  guidedFilter(wanted: Plane, guide: readonly Plane[], reach: number, stiffness: number): Plane;
  drawnOver(plane: Plane, cover: Cover): Plane;
  onGrid(plane: Plane, across: GridAxis, down: GridAxis): Plane;
  logLight(plane: Plane): Plane;
  /** Interleaved; tables of a channel each. */
  codesOf(channels: readonly Plane[], tables: readonly CodeTables[]): Uint16Array;
  sumsAcross(codes: Uint16Array, width: number, tables: readonly Float32Array[], spans: LineSpans): Float32Array[];
  lit(planes: readonly Plane[], light: Plane): Plane[];
  mixes(planes: readonly Plane[], rows: readonly (readonly number[])[]): Plane[];
  blendOver(shown: Plane, own: Plane, answer: Plane, weight: Plane, share: number): Plane;
  varianceByTone(channels: readonly Plane[], variance: ToneVariance, found: Plane, most: number): Plane;
  squaredRatio(p: Plane, q: Plane | null, v: Plane, w: Plane, share: number): Plane;
  rooted(plane: Plane, slope: number, base: number, scale: number): Plane;
  lookedUp(plane: Plane, table: EvenTable): Plane;
  demosaicTile(tile: Plane, pattern: readonly number[], becomes: Uint16Array): Uint16Array;
  /** What is returned is good until another filter or kernel is asked. */
  spectralSums(table: SpectrumTable, logGain: Float64Array): (parameters: readonly number[]) => SpectralSums;
}

let installed: Filters | null = null;

export function installFilters(filters: Filters): void {
  installed = filters;
}

/**
 * Those a host installed, where the plane is worth handing over and not so large that it would fill the host's memory.
 */
export function installedFilters({ width, height }: Size): Filters | null {
  return width >= 4 && width * height <= MOST_SAMPLES ? installed : null;
}

const MOST_SAMPLES = 2 ** 22;

/** What a host brought for fitting spectra. */
export const installedSums = (): Filters['spectralSums'] | null => installed && installed.spectralSums;

/**
 * An installed filter over a plane of any size, in strips that are not too large: what it gives at a sample hangs on no
 * row farther away than `reach`. Null where none is installed.
 */
export function filteredInStrips(
  plane: Plane,
  reach: number,
  filter: (filters: Filters, strip: Plane) => Plane,
  most = MOST_SAMPLES,
): Plane | null {
  const { width, height, data } = plane;
  const rows = Math.floor(most / width) - 2 * reach;
  if (!installed || width < 4 || rows < 1) return null;
  if (width * height <= most) return filter(installed, plane);
  const out = new Float32Array(data.length);
  for (let top = 0; top < height; top += rows) {
    const [from, end] = [Math.max(0, top - reach), Math.min(height, top + rows + reach)];
    const strip = { width, height: end - from, data: data.subarray(from * width, end * width) };
    const kept = filter(installed, strip).data.subarray((top - from) * width, (top - from + rows) * width);
    out.set(kept, top * width);
  }
  return { width, height, data: out };
}
