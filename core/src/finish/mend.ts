import { boundsOfStroke, drawMask } from '../mask/drawMask';
import type { Stroke } from '../mask/maskOperation';
import { bilinear } from '../picture/bilinear';
import type { Channels } from '../picture/picture';
import { createPlane, type Plane } from '../picture/plane';
import type { Point, Region } from '../picture/region';
import type { Mend } from '../prescription/finishing';
import { membrane } from './membrane';

/** Px around what is covered from which the seam is told. */
export const SEAM_PX = 4;
const FEATHER_PERCENT = 25;

const strokeOf = ({ stroke }: Pick<Mend, 'stroke'>): Stroke => ({
  kind: 'stroke',
  mode: 'add',
  featherPercent: FEATHER_PERCENT,
  ...stroke,
});

/** What a mend covers, with its seam; whole px of the frame. */
export function regionOfMend(mend: Pick<Mend, 'stroke'>): Region {
  const { x, y, width, height } = boundsOfStroke(strokeOf(mend));
  const [left, top] = [Math.floor(x) - SEAM_PX, Math.floor(y) - SEAM_PX];
  return {
    x: left,
    y: top,
    width: Math.ceil(x + width) + SEAM_PX - left,
    height: Math.ceil(y + height) + SEAM_PX - top,
  };
}

const middleOf = ({ x, y, width, height }: Region): Point => ({ x: x + (width - 1) / 2, y: y + (height - 1) / 2 });

/** Where a place under a mend is taken from, px of the frame. */
function sourceAt({ dx, dy, turnDeg }: Mend, middle: Point): (x: number, y: number) => Point {
  const angle = (-turnDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return (x, y) => {
    const [u, v] = [x - middle.x, y - middle.y];
    return { x: middle.x + dx + cos * u - sin * v, y: middle.y + dy + sin * u + cos * v };
  };
}

/** What a mend takes from; whole px of the frame. */
export function sourceOfMend(mend: Mend): Region {
  const place = regionOfMend(mend);
  const at = sourceAt(mend, middleOf(place));
  const [right, bottom] = [place.x + place.width - 1, place.y + place.height - 1];
  const corners = [at(place.x, place.y), at(right, place.y), at(place.x, bottom), at(right, bottom)];
  const left = Math.floor(Math.min(...corners.map(({ x }) => x)));
  const top = Math.floor(Math.min(...corners.map(({ y }) => y)));
  return {
    x: left,
    y: top,
    width: Math.ceil(Math.max(...corners.map(({ x }) => x))) - left + 2,
    height: Math.ceil(Math.max(...corners.map(({ y }) => y))) - top + 2,
  };
}

export interface Mended {
  readonly place: Region;
  readonly channels: readonly Plane[];
  /** 0..1: how far a sample is covered. */
  readonly alpha: Plane;
}

/**
 * Covers a place from its source. The source is laid on with what it differs by at the seam, spread inwards as a
 * membrane, so that no seam shows.
 *
 * @param planes - Linear, over `region`, which holds the mend's place and its source.
 * Source: Pérez, Gangnet, Blake, "Poisson image editing", ACM TOG 22 (2003), seamless cloning.
 */
export function mended(planes: Channels, region: Region, mend: Mend): Mended {
  const place = regionOfMend(mend);
  const alpha = drawMask([strokeOf(mend)], place);
  const at = sourceAt(mend, middleOf(place));
  const free = alpha.data.map((value) => (value > 0 ? 1 : 0));
  const channels = planes.map((plane) => {
    const own = createPlane(place.width, place.height);
    const source = createPlane(place.width, place.height);
    const gap = createPlane(place.width, place.height);
    for (let y = 0, i = 0; y < place.height; y++) {
      for (let x = 0; x < place.width; x++, i++) {
        const [u, v] = [place.x + x - region.x, place.y + y - region.y];
        own.data[i] = plane.data[v * plane.width + u];
        const from = at(place.x + x, place.y + y);
        source.data[i] = bilinear(plane, from.x - region.x, from.y - region.y);
        gap.data[i] = own.data[i] - source.data[i];
      }
    }
    const spread = membrane(gap, free);
    for (let i = 0; i < own.data.length; i++) {
      own.data[i] += alpha.data[i] * (source.data[i] + spread.data[i] - own.data[i]);
    }
    return own;
  });
  return { place, channels, alpha };
}
