import { keptWith } from '../../picture/kept';
import { createPlane } from '../../picture/plane';
import type { Region } from '../../picture/region';
import { psfOf } from '../../methods';
import type { RecoverySettings } from '../../recover/recovery';
import { reachOf } from '../../psf/psf';
import type { PathPlace } from '../../psf/storedPath';
import type { FieldPart } from './fieldPart';

/**
 * The path of a camera that turned as well: as places on a grid saw it. Between them their answers are blended, so no
 * seam shows.
 */
export interface PathField {
  readonly columns: readonly number[];
  readonly rows: readonly number[];
  /** Row by row. */
  readonly places: readonly PathPlace[];
}

/** Null where one path holds everywhere. */
export function pathFieldOf({ method, path }: RecoverySettings): PathField | null {
  if (method !== 'camera-shake' || !path?.places) return null;
  const distinct = (values: number[]) => [...new Set(values)].sort((a, b) => a - b);
  const { places } = path;
  return { columns: distinct(places.map(({ x }) => x)), rows: distinct(places.map(({ y }) => y)), places };
}

/** The settings at a place: its own path, longer or shorter as the whole was made by hand. */
export function settingsAt(place: PathPlace, settings: RecoverySettings): RecoverySettings {
  const scale = settings.blurSizePx / Math.max(0.1, settings.path!.lengthPx);
  return { ...settings, path: place, blurSizePx: place.lengthPx * scale };
}

/** The settings whose path reaches farthest. */
export function widestPath({ places }: PathField, settings: RecoverySettings): RecoverySettings {
  const widest = keptWith(settings.path!, `widest at ${settings.blurSizePx}`, () => {
    const reaches = places.map((place) => reachOf(psfOf(settingsAt(place, settings))));
    return reaches.indexOf(Math.max(...reaches));
  });
  return settingsAt(places[widest], settings);
}

/** The paths that hold somewhere in `region` of the frame. */
export function pathsOver(field: PathField, settings: RecoverySettings, region: Region): FieldPart[] {
  const { columns, rows, places } = field;
  const across = columns.map((_, i) => tentsOver(columns, i, region.x, region.width));
  const down = rows.map((_, i) => tentsOver(rows, i, region.y, region.height));
  return places.flatMap((place) => {
    const tentX = across[columns.indexOf(place.x)];
    const tentY = down[rows.indexOf(place.y)];
    if (!tentX.some((value) => value > 0) || !tentY.some((value) => value > 0)) return [];
    const share = createPlane(region.width, region.height);
    for (let y = 0, i = 0; y < region.height; y++) {
      for (let x = 0; x < region.width; x++, i++) share.data[i] = tentX[x] * tentY[y];
    }
    return [{ settings: settingsAt(place, settings), share }];
  });
}

/**
 * How far knot `own` holds at each of `length` samples from `first` on: 1 at itself, 0 from the next knot on; beyond
 * the last one 1.
 */
function tentsOver(knots: readonly number[], own: number, first: number, length: number): Float32Array {
  const [before, at, after] = [knots[own - 1] ?? -Infinity, knots[own], knots[own + 1] ?? Infinity];
  return Float32Array.from({ length }, (_, i) => {
    const place = first + i;
    const share = place < at ? (place - before) / (at - before) : (after - place) / (after - at);
    return Number.isNaN(share) ? 1 : Math.max(0, share);
  });
}
