import type { Channels } from '../picture/picture';
import { cropPlane } from '../picture/crop';
import { createPlane, type Plane } from '../picture/plane';
import { grow, intersect, isEmpty, wholeOf, type Size } from '../picture/region';
import { MOST_AREA_SIDE } from './area';
import { boundsOfStroke, drawMask } from './drawMask';
import { followEdges } from './followEdges';
import type { AreaOrigin, MaskOperation, Stroke } from './maskOperation';
import { grown, holesOf, specksOf } from './morphology';
import { colourRange, focusRange, toneRange } from './ranges';
import { subjectArea } from './subjectArea';

/** What an area is to be made from, with what its origin does not keep. */
export type AreaWish =
  | Exclude<AreaOrigin, { kind: 'edges' | 'holes' | 'specks' | 'file' }>
  | { readonly kind: 'edges'; readonly stroke: Stroke }
  /** Pieces smaller than `side` px squared, in the mask that `operations` draw. */
  | { readonly kind: 'holes' | 'specks'; readonly side: number; readonly operations: readonly MaskOperation[] };

/** Long side, px, of the picture from which a wish is met: sharpness and colour change slowly. */
export function sideFor({ kind }: AreaWish): number {
  return kind === 'focus' || kind === 'colour' ? MOST_AREA_SIDE / 2 : MOST_AREA_SIDE;
}

/** Coverage as a wish says, as large as `picture`: linear sRGB, the whole frame at some smaller scale. */
export function makeArea(picture: Channels, frame: Size, wish: AreaWish): Plane {
  const scale = picture[0].width / frame.width;
  const placed = (value: number) => (value + 0.5) * scale - 0.5;
  switch (wish.kind) {
    case 'subject':
      return subjectArea(
        picture,
        wish.dabs.map((dab) => ({ ...dab, x: placed(dab.x), y: placed(dab.y), radius: dab.radius * scale })),
        wish.only?.map(placed),
      );
    case 'tone':
      return toneRange(picture, wish.band);
    case 'focus':
      return focusRange(picture, wish.band);
    case 'colour':
      return colourRange(picture, wish, wish.tolerance);
    case 'edges':
      return followedOver(picture, {
        ...wish.stroke,
        sizePx: wish.stroke.sizePx * scale,
        points: wish.stroke.points.map(placed),
      });
    case 'holes':
    case 'specks': {
      const mask = drawMask(wish.operations, wholeOf(frame), scale);
      const most = (wish.side * scale) ** 2;
      // Their soft rims go with them.
      return grown(wish.kind === 'holes' ? holesOf(mask, most) : specksOf(mask, most), RIM);
    }
  }
}

const RIM = 2;
const AROUND_STROKE = 12;

/** Only round the stroke the picture is looked at. */
function followedOver(picture: Channels, stroke: Stroke): Plane {
  const whole = wholeOf(picture[0]);
  const { x, y, width, height } = grow(boundsOfStroke(stroke), AROUND_STROKE);
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const piece = intersect({ x: left, y: top, width: Math.ceil(width) + 1, height: Math.ceil(height) + 1 }, whole);
  const out = createPlane(whole.width, whole.height);
  if (isEmpty(piece)) return out;
  const points = stroke.points.map((value, i) => value - (i % 2 === 0 ? piece.x : piece.y));
  const { data } = followEdges(
    picture.map((plane) => cropPlane(plane, piece)),
    { ...stroke, points },
  );
  for (let row = 0; row < piece.height; row++) {
    out.data.set(data.subarray(row * piece.width, (row + 1) * piece.width), (piece.y + row) * out.width + piece.x);
  }
  return out;
}

/** What is kept of a wish. */
export function originOf(wish: AreaWish): AreaOrigin {
  return wish.kind === 'edges' || wish.kind === 'holes' || wish.kind === 'specks' ? { kind: wish.kind } : wish;
}
