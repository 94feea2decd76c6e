import type { Channels } from '../picture/picture';
import { cropPlane } from '../picture/crop';
import { drawnOver } from '../picture/drawnOver';
import { keptWith } from '../picture/kept';
import { createPlane, type Plane } from '../picture/plane';
import { grow, intersect, wholeOf, type Region, type Size } from '../picture/region';
import { scaledDown } from '../picture/scaledDown';
import { DAB_CORE_AT_OUTLINE, sureFrom } from './dabs';
import { findInLoop } from './findInLoop';
import { findSubject, type FoundSubject } from './findSubject';
import { piecesOf } from './pieces';
import { fineBorder } from './fineBorder';
import { guidedFilter } from './guidedFilter';
import type { Dab } from './maskOperation';
import { mendSubject } from './mendSubject';

/** Long side of the picture in which the subject is cut out, px. */
const CUT_SIDE = 400;
/** Long side of the picture in which its outline is drawn anew, px. */
const OUTLINE_SIDE = 1200;
/** Half side of the squares that follow the picture's own borders, as a share of the long side. */
const REACH_SHARE = 0.0025;
const STIFFNESS = 1e-3;
/** The filter leaves borders softer than they are. */
const STEEPER = 2;
/** Borders are laid block by block, only where there are any. */
const BLOCK = 192;

/**
 * The subject's coverage at the size of `picture`: cut out small, its outline drawn anew larger, then laid along the
 * picture's own borders. What no dab has touched is kept as long as the picture is; neither must change.
 *
 * @param picture - Linear sRGB, as large as the coverage is wanted.
 * @param dabs - In px of `picture`.
 * @param only - What was pointed at is meant and nothing else: what lies in a loop (x0, y0, x1, y1 … in px of
 *   `picture`), or with an empty one what the dabs say.
 */
export function subjectArea(picture: Channels, dabs: readonly Dab[], only?: readonly number[]): Plane {
  return dabs.length === 0 && !only
    ? keptWith(picture, 'subject area', () => areaWith(picture, []))
    : areaWith(picture, dabs, only);
}

function areaWith(picture: Channels, dabs: readonly Dab[], only?: readonly number[]): Plane {
  const { width, height } = picture[0];
  const { small, fine, scale, fineScale } = prepareSubject(picture);
  const labels = only ? labelsOnly(small, only, dabs, scale) : small.labels;
  const found = dabs.length > 0 ? mendSubject({ ...small, labels }, dabsAt(dabs, scale)) : labels;
  const rough = enlarged(planeOf(found, small), wholeOf(fine[0]), scale / fineScale);
  const start = new Uint8Array(rough.data.length);
  for (let i = 0; i < start.length; i++) start[i] = rough.data[i] > 0.5 ? 1 : 0;
  const sure =
    dabs.length > 0 ? sureFrom(dabsAt(dabs, fineScale), rough.width, rough.height, DAB_CORE_AT_OUTLINE) : null;
  const coarse = planeOf(fineBorder(start, fine, fineScale / scale, sure), rough);
  const reach = Math.max(2, Math.round(REACH_SHARE * Math.max(width, height)));
  const out = createPlane(width, height);
  for (let y = 0; y < height; y += BLOCK) {
    for (let x = 0; x < width; x += BLOCK) {
      const block = intersect({ x, y, width: BLOCK, height: BLOCK }, wholeOf(out));
      // What a sample takes on lies within the squares of the squares around it.
      const seen = intersect(grow(block, 2 * reach), wholeOf(out));
      const label = onlyLabelIn(coarse, seen, fineScale);
      if (label !== null) {
        for (let row = block.y; row < block.y + block.height; row++) {
          out.data.fill(label, row * width + block.x, row * width + block.x + block.width);
        }
        continue;
      }
      const laid = laidAlong(enlarged(coarse, seen, fineScale), picture, seen, reach);
      for (let row = 0; row < block.height; row++) {
        const from = (row + block.y - seen.y) * seen.width + block.x - seen.x;
        out.data.set(laid.data.subarray(from, from + block.width), (block.y + row) * width + block.x);
      }
    }
  }
  return out;
}

interface Prepared {
  /** The picture as small as the subject is cut out in. */
  readonly cut: Channels;
  readonly small: FoundSubject;
  readonly fine: Channels;
  readonly scale: number;
  readonly fineScale: number;
}

/** What does not hang on dabs: most of the work. Kept as long as the picture is, which must not change. */
export function prepareSubject(picture: Channels): Prepared {
  return keptWith(picture, 'subject', () => {
    const long = Math.max(picture[0].width, picture[0].height);
    const scale = Math.min(1, CUT_SIDE / long);
    const fineScale = Math.min(1, OUTLINE_SIDE / long);
    const fine = picture.map((plane) => scaledDown(plane, fineScale));
    const cut = fine.map((plane) => scaledDown(plane, scale / fineScale));
    return { cut, small: findSubject(cut), fine, scale, fineScale };
  });
}

/** What lies in the loop; without one, those pieces of what was found by itself that a dab says are meant. */
function labelsOnly(small: FoundSubject, loop: readonly number[], dabs: readonly Dab[], scale: number): Uint8Array {
  if (loop.length > 0) {
    return findInLoop(
      small,
      loop.map((value) => value * scale),
    );
  }
  const { labels, width, height } = small;
  const meant = new Uint8Array(labels.length);
  const within = (value: number, length: number) => Math.min(length - 1, Math.max(0, Math.floor(value)));
  const pointedAt = dabsAt(dabs, scale)
    .filter(({ isSubject }) => isSubject)
    .map(({ x, y }) => within(y, height) * width + within(x, width));
  for (const piece of piecesOf(labels, 1, width, height)) {
    if (pointedAt.some((at) => piece.includes(at))) for (const i of piece) meant[i] = 1;
  }
  return meant;
}

const dabsAt = (dabs: readonly Dab[], scale: number) =>
  dabs.map((dab) => ({ ...dab, x: dab.x * scale, y: dab.y * scale, radius: dab.radius * scale }));

function planeOf(labels: Uint8Array, { width, height }: Size): Plane {
  return { width, height, data: new Float32Array(labels) };
}

/**
 * The label that all samples have which `region`, in px of a picture larger by 1/scale, is drawn from; null for
 * several.
 */
function onlyLabelIn({ width, height, data }: Plane, region: Region, scale: number): number | null {
  const left = Math.max(0, Math.floor(region.x * scale) - 1);
  const right = Math.min(width, Math.ceil((region.x + region.width) * scale) + 1);
  const top = Math.max(0, Math.floor(region.y * scale) - 1);
  const bottom = Math.min(height, Math.ceil((region.y + region.height) * scale) + 1);
  const label = data[top * width + left];
  for (let y = top; y < bottom; y++) {
    for (let i = y * width + left; i < y * width + right; i++) if (data[i] !== label) return null;
  }
  return label;
}

/** Between its samples; `region` is in px of a picture larger by 1/scale. */
function enlarged(coarse: Plane, { x, y, width, height }: Region, scale: number): Plane {
  return drawnOver(coarse, { width, height, x: x * scale, y: y * scale, stepX: scale, stepY: scale });
}

function laidAlong(wanted: Plane, picture: Channels, seen: Region, reach: number): Plane {
  // Near enough to how light and dark are seen, and quickly had.
  const guide = picture.map((plane) => {
    const cut = cropPlane(plane, seen);
    for (let i = 0; i < cut.data.length; i++) cut.data[i] = Math.sqrt(Math.max(0, cut.data[i]));
    return cut;
  });
  const fine = guidedFilter(wanted, guide.length === 3 ? guide : [guide[0], guide[0], guide[0]], reach, STIFFNESS);
  for (let i = 0; i < fine.data.length; i++) {
    fine.data[i] = Math.min(1, Math.max(0, STEEPER * (fine.data[i] - 0.5) + 0.5));
  }
  return fine;
}
