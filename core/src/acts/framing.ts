import { toFrame, type Levelling } from '../correct/level';
import { intersect, wholeOf, type Size } from '../picture/region';
import {
  LONG_EDGE_PX,
  MOST_ENLARGE,
  MOST_STRAIGHTEN_DEG,
  type Box,
  type Geometry,
  type Prescription,
} from '../prescription/prescription';
import { cropOf, levellingOf } from '../stages/geometry';
import { sizeAfter } from '../stages/pipeline';

const asItIs: Geometry = { crop: null, quarterTurns: 0 };

/** Framing changed by an act; where nothing is left of it there is none. */
export function withGeometry(old: Prescription, act: (geometry: Geometry) => Geometry): Prescription {
  const { crop, quarterTurns, straightenDeg = 0, isMirrored = false, enlarge = 1 } = act(old.geometry ?? asItIs);
  const isNone = !crop && quarterTurns === 0 && straightenDeg === 0 && !isMirrored && enlarge === 1;
  const more = {
    ...(straightenDeg !== 0 ? { straightenDeg } : {}),
    ...(isMirrored ? { isMirrored } : {}),
    ...(enlarge !== 1 ? { enlarge } : {}),
  };
  return { ...old, geometry: isNone ? null : { crop, quarterTurns, ...more } };
}

/**
 * A crop in whole px of the level picture, drawn in about its middle until nothing from outside the frame shows; all of
 * the frame is none.
 */
export function withCrop(old: Prescription, frame: Size, crop: Box | null): Prescription {
  return withGeometry(old, (geometry) => {
    if (!crop) return { ...geometry, crop: null };
    const levelling = levellingOf({ ...old, geometry }, frame);
    const isLevel = levelling.straightenDeg === 0 && levelling.distortionPercent === 0;
    const kept = isLevel ? intersect(rounded(crop), wholeOf(frame)) : drawnIn(crop, levelling);
    const isAll = kept.width === frame.width && kept.height === frame.height;
    return { ...geometry, crop: (isAll && isLevel) || kept.width <= 0 || kept.height <= 0 ? null : kept };
  });
}

const rounded = ({ x, y, width, height }: Box): Box => ({
  x: Math.round(x),
  y: Math.round(y),
  width: Math.max(1, Math.round(width)),
  height: Math.max(1, Math.round(height)),
});

const HALVINGS = 20;

/** The same shape about the same middle, as large as the frame allows. */
function drawnIn(crop: Box, levelling: Levelling): Box {
  const { frame } = levelling;
  const [mx, my] = [crop.x + crop.width / 2, crop.y + crop.height / 2];
  const sized = (share: number): Box => ({
    x: mx - (share * crop.width) / 2,
    y: my - (share * crop.height) / 2,
    width: share * crop.width,
    height: share * crop.height,
  });
  const isInside = ({ x, y, width, height }: Box) => {
    const [left, top, right, bottom] = [x - 0.5, y - 0.5, x + width - 0.5, y + height - 0.5];
    const edges = [left, (left + right) / 2, right].flatMap((u) =>
      [top, (top + bottom) / 2, bottom].map((v) => [u, v]),
    );
    return edges.every(([u, v]) => {
      const at = toFrame(levelling, { x: u, y: v });
      return at.x >= -0.5 && at.y >= -0.5 && at.x <= frame.width - 0.5 && at.y <= frame.height - 0.5;
    });
  };
  if (isInside(crop)) return rounded(crop);
  let [low, high] = [0, 1];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (isInside(sized(middle))) low = middle;
    else high = middle;
  }
  const { x, y, width, height } = sized(low);
  return { x: Math.ceil(x), y: Math.ceil(y), width: Math.floor(width - 1), height: Math.floor(height - 1) };
}

/**
 * The largest crop of a ratio (width over height, as the finished picture shows it) about the middle of the present
 * one.
 */
export function withRatio(old: Prescription, frame: Size, ratio: number): Prescription {
  const isOnItsSide = (old.geometry?.quarterTurns ?? 0) % 2 === 1;
  const wanted = isOnItsSide ? 1 / ratio : ratio;
  const now = cropOf(old, frame);
  const width = Math.min(now.width, now.height * wanted);
  const height = width / wanted;
  return withCrop(old, frame, {
    x: now.x + (now.width - width) / 2,
    y: now.y + (now.height - height) / 2,
    width,
    height,
  });
}

/** Turned by an angle; the crop is drawn in about its middle until nothing from outside the frame shows. */
export function straighten(old: Prescription, frame: Size, degrees: number): Prescription {
  const kept = Math.max(-MOST_STRAIGHTEN_DEG, Math.min(MOST_STRAIGHTEN_DEG, degrees));
  const turned = withGeometry(old, (geometry) => ({ ...geometry, straightenDeg: kept }));
  return turned.geometry?.crop ? withCrop(turned, frame, turned.geometry.crop) : turned;
}

/** The finished picture made smaller to a long edge, px; as large as it is anyway is no size of its own. */
export function withLongEdge(old: Prescription, frame: Size, longEdgePx: number): Prescription {
  const { size: _, ...rest } = old;
  const { width, height } = sizeAfter(rest, frame);
  return longEdgePx >= Math.max(width, height)
    ? rest
    : { ...rest, size: { longEdgePx: Math.max(LONG_EDGE_PX.least, Math.round(longEdgePx)) } };
}

/** The copy sharpened by so many percent, last of all; none is left out. */
export function withOutputSharpening(old: Prescription, percent: number): Prescription {
  const { outputSharpeningPercent: _, ...rest } = old;
  return percent > 0 ? { ...rest, outputSharpeningPercent: Math.min(100, percent) } : rest;
}

/** The angle that makes a line level, or upright where it is nearer to that; ° clockwise. */
export function angleOfLine(x0: number, y0: number, x1: number, y1: number): number {
  const slope = (Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI;
  const off = ((((slope + 45) % 90) + 90) % 90) - 45;
  return -off;
}

export function turnQuarter(old: Prescription, by: 1 | -1): Prescription {
  return withGeometry(old, (geometry) => ({
    ...geometry,
    quarterTurns: ((geometry.quarterTurns + by + 4) % 4) as Geometry['quarterTurns'],
  }));
}

export const mirror = (old: Prescription): Prescription =>
  withGeometry(old, (geometry) => ({ ...geometry, isMirrored: !geometry.isMirrored }));

export const enlargeBy = (old: Prescription, factor: number): Prescription =>
  withGeometry(old, (geometry) => ({ ...geometry, enlarge: Math.max(1, Math.min(MOST_ENLARGE, factor)) }));
