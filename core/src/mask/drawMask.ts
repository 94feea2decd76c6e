import { cropPlane } from '../picture/crop';
import { createPlane, filledPlane, type Plane } from '../picture/plane';
import { grow, intersect, isEmpty, wholeOf, type Region, type Size } from '../picture/region';
import { boundsOfArea, drawArea } from './area';
import { coverSegment, type Segment } from './brush';
import type { CombineMode, MaskOperation, Stroke } from './maskOperation';
import { feathered, grown, inverted, reachOfFeather, shrunkBy } from './morphology';
import { linearAt, radialAt } from './shapes';

/**
 * Draws operations over `region` at `scale` (drawn px per original px): 0 untouched .. 1 fully recovered.
 * Coverage within a stroke is the largest along it, so crossing oneself does not build up; what is added, erased and
 * intersected joins as 1 − (1 − m)(1 − c), m·(1 − c), m·c.
 */
export function drawMask(operations: readonly MaskOperation[], region: Region, scale = 1): Plane {
  const width = Math.max(1, Math.round(region.width * scale));
  const height = Math.max(1, Math.round(region.height * scale));
  // Growing and feathering look around: so much more is drawn, and cut off again.
  const margin = Math.ceil(reachOfOperations(operations) * scale);
  const wide = margin > 0 ? grow(region, margin / scale) : region;
  let mask = createPlane(width + 2 * margin, height + 2 * margin);
  for (const operation of operations) if (!operation.isOff) mask = joined(mask, operation, wide, scale);
  return margin > 0 ? cropPlane(mask, { x: margin, y: margin, width, height }) : mask;
}

function joined(mask: Plane, operation: MaskOperation, region: Region, scale: number): Plane {
  switch (operation.kind) {
    case 'fill':
      return filledPlane(mask.width, mask.height, 1);
    case 'invert':
      return inverted(mask);
    case 'grow': {
      const radius = operation.px * scale;
      return radius >= 0 ? grown(mask, radius) : shrunkBy(mask, -radius);
    }
    case 'feather':
      return feathered(mask, operation.px * scale);
    case 'stroke':
      return withStroke(mask, operation, region, scale);
    case 'area': {
      const { data } = drawArea(operation, region, scale, mask.width, mask.height);
      return combined(mask, operation.mode, (i) => data[i]);
    }
    case 'radial':
    case 'linear':
      return combined(mask, operation.mode, (i) => {
        const u = region.x + ((i % mask.width) + 0.5) / scale - 0.5;
        const v = region.y + (Math.floor(i / mask.width) + 0.5) / scale - 0.5;
        return operation.kind === 'radial'
          ? radialAt(operation, u, v, 1 / scale)
          : linearAt(operation, u, v, 1 / scale);
      });
  }
}

function combined(mask: Plane, mode: CombineMode, coverageAt: (i: number) => number): Plane {
  const { data } = mask;
  for (let i = 0; i < data.length; i++) data[i] = combine(data[i], coverageAt(i), mode);
  return mask;
}

export function combine(mask: number, coverage: number, mode: CombineMode): number {
  if (mode === 'add') return 1 - (1 - mask) * (1 - coverage);
  return mode === 'erase' ? mask * (1 - coverage) : mask * coverage;
}

/** How far around a place the mask there depends on what was drawn, px of the frame. */
export function reachOfOperations(operations: readonly MaskOperation[]): number {
  return operations.reduce((sum, operation) => {
    if (operation.isOff) return sum;
    if (operation.kind === 'grow') return sum + Math.ceil(Math.abs(operation.px)) + 1;
    return operation.kind === 'feather' ? sum + reachOfFeather(operation.px) : sum;
  }, 0);
}

function withStroke(mask: Plane, stroke: Stroke, region: Region, scale: number): Plane {
  const bounds = boundsOfStroke(stroke);
  const left = Math.max(0, Math.floor((bounds.x - region.x) * scale - 2));
  const top = Math.max(0, Math.floor((bounds.y - region.y) * scale - 2));
  const width = Math.min(mask.width, Math.ceil((bounds.x + bounds.width - region.x) * scale + 2)) - left;
  const height = Math.min(mask.height, Math.ceil((bounds.y + bounds.height - region.y) * scale + 2)) - top;
  if (width <= 0 || height <= 0) return mask;
  const values = new Float32Array(width * height);
  for (const segment of segmentsOf(stroke, region, scale)) {
    const { x0, y0, x1, y1 } = segment;
    const placed = { ...segment, x0: x0 - left, x1: x1 - left, y0: y0 - top, y1: y1 - top };
    coverSegment(values, width, height, placed, stroke.featherPercent);
  }
  const opacity = (stroke.opacityPercent ?? 100) / 100;
  for (let y = 0, from = 0; y < height; y++) {
    for (let i = (y + top) * mask.width + left, end = i + width; i < end; i++, from++) {
      mask.data[i] = combine(mask.data[i], opacity * values[from], stroke.mode);
    }
  }
  return mask;
}

/**
 * In drawn px: their centres lie at (column + 0.5) / scale − 0.5 in px of the frame, whose own centres are at integers.
 */
function segmentsOf({ points, sizePx, pressures }: Stroke, region: Region, scale: number): Segment[] {
  const toX = (k: number) => (points[2 * k] - region.x + 0.5) * scale - 0.5;
  const toY = (k: number) => (points[2 * k + 1] - region.y + 0.5) * scale - 0.5;
  const radius = (k: number) => (sizePx / 2) * scale * (pressures?.[k] ?? 1);
  const segment = (k: number, next: number): Segment => ({
    x0: toX(k),
    y0: toY(k),
    x1: toX(next),
    y1: toY(next),
    radius0: radius(k),
    radius1: radius(next),
  });
  const count = points.length / 2;
  return count === 1 ? [segment(0, 0)] : Array.from({ length: count - 1 }, (_, k) => segment(k, k + 1));
}

/** Where a stroke can cover anything, px of the frame. */
export function boundsOfStroke({ points, sizePx }: Stroke): Region {
  const reach = sizePx / 2 + 1;
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 2) {
    left = Math.min(left, points[i]);
    right = Math.max(right, points[i]);
    top = Math.min(top, points[i + 1]);
    bottom = Math.max(bottom, points[i + 1]);
  }
  return { x: left - reach, y: top - reach, width: right - left + 2 * reach, height: bottom - top + 2 * reach };
}

/** Long side, px, of the small drawing from which bounds are taken. */
const BOUNDS_SIDE = 512;

/** A rectangle that holds every sample of the drawn mask over one half, in whole px; null where there is none. */
export function boundsOfMask(operations: readonly MaskOperation[], frame: Size): Region | null {
  const scale = Math.min(1, BOUNDS_SIDE / Math.max(frame.width, frame.height));
  const small = drawMask(operations, wholeOf(frame), scale);
  let [left, top, right, bottom] = [Infinity, Infinity, -1, -1];
  for (let y = 0; y < small.height; y++) {
    for (let x = 0; x < small.width; x++) {
      if (small.data[y * small.width + x] <= 0.5) continue;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = y;
    }
  }
  if (right < 0) return null;
  const outer = {
    x: Math.floor((left - 1) / scale),
    y: Math.floor((top - 1) / scale),
    width: Math.ceil((right - left + 3) / scale),
    height: Math.ceil((bottom - top + 3) / scale),
  };
  return intersect(outer, wholeOf(frame));
}

/**
 * The operations that matter to `region`: strokes, areas and ellipses that end outside it draw nothing there. One is
 * always kept, since a mask without operations means the whole frame. A change elsewhere leaves the list as it was.
 */
export function operationsNear(operations: readonly MaskOperation[], region: Region): MaskOperation[] {
  const near = reachingInto(operations, region);
  return near.length > 0 ? near : operations.slice(0, 1);
}

/** Whether a mask can cover anything of a region: told by where its operations lie, nothing is drawn. */
export const mayCover = (operations: readonly MaskOperation[], region: Region): boolean =>
  reachingInto(operations, region).length > 0;

function reachingInto(operations: readonly MaskOperation[], region: Region): MaskOperation[] {
  const wide = grow(region, reachOfOperations(operations));
  return operations.filter((operation) => {
    if (operation.isOff) return false;
    // What intersects clears the mask where it does not reach.
    if ('mode' in operation && operation.mode === 'intersect') return true;
    switch (operation.kind) {
      case 'stroke':
        return !isEmpty(intersect(boundsOfStroke(operation), wide));
      case 'area': {
        const bounds = boundsOfArea(operation);
        return bounds !== null && !isEmpty(intersect(bounds, wide));
      }
      case 'radial': {
        const { x, y, rx, ry } = operation;
        return !isEmpty(intersect({ x: x - rx - 1, y: y - ry - 1, width: 2 * rx + 2, height: 2 * ry + 2 }, wide));
      }
      default:
        return true;
    }
  });
}
