import { createPlane, type Plane } from '../picture/plane';
import { intersect, isEmpty, wholeOf, type Region, type Size } from '../picture/region';
import { boundsOfArea, drawArea } from './area';
import type { MaskOperation } from './maskOperation';

/**
 * Draws operations over `region` at `scale` (drawn px per original px): 0 untouched .. 1 fully recovered.
 * Coverage within a stroke is the largest along it, so crossing oneself does not build up; strokes add as
 * 1 − (1 − m)(1 − c) and erase as m·(1 − c).
 */
export function drawMask(operations: readonly MaskOperation[], region: Region, scale = 1): Plane {
  const width = Math.max(1, Math.round(region.width * scale));
  const height = Math.max(1, Math.round(region.height * scale));
  const mask = createPlane(width, height);
  for (const operation of operations) {
    if (operation.isOff) continue;
    if (operation.kind === 'invert') {
      for (let i = 0; i < mask.data.length; i++) mask.data[i] = 1 - mask.data[i];
    } else if (operation.kind === 'area') {
      const covered = drawArea(operation, region, scale, width, height).data;
      for (let i = 0; i < covered.length; i++) mask.data[i] = combined(mask.data[i], covered[i], operation.mode);
    } else {
      applyStroke(mask, operation, region, scale);
    }
  }
  return mask;
}

const combined = (mask: number, coverage: number, mode: 'add' | 'erase') =>
  mode === 'add' ? 1 - (1 - mask) * (1 - coverage) : mask * (1 - coverage);

type Stroke = Extract<MaskOperation, { kind: 'stroke' }>;

function applyStroke(mask: Plane, stroke: Stroke, region: Region, scale: number): void {
  const coverage = strokeCoverage(mask.width, mask.height, stroke, region, scale);
  if (!coverage) return;
  const { left, top, right, bottom, values } = coverage;
  const opacity = (stroke.opacityPercent ?? 100) / 100;
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const c = opacity * values[(y - top) * (right - left) + x - left];
      const i = y * mask.width + x;
      mask.data[i] = combined(mask.data[i], c, stroke.mode);
    }
  }
}

/** Coverage by distance from the stroke's line: 1 inside the hard core, a smooth fall to 0 at the rim. */
export function brushProfile(distancePx: number, radiusPx: number, featherPercent: number, rimPx: number): number {
  const core = radiusPx * (1 - featherPercent / 100);
  const from = Math.min(core, radiusPx - rimPx / 2);
  const to = Math.max(radiusPx, from + rimPx);
  if (distancePx <= from) return 1;
  if (distancePx >= to) return 0;
  const t = (to - distancePx) / (to - from);
  return t * t * (3 - 2 * t);
}

function strokeCoverage(width: number, height: number, stroke: Stroke, region: Region, scale: number) {
  const { points } = stroke;
  // Drawn px centres lie at (column + 0.5) / scale − 0.5 in original px, whose own centres are at integers.
  const toX = (x: number) => (x - region.x + 0.5) * scale - 0.5;
  const toY = (y: number) => (y - region.y + 0.5) * scale - 0.5;
  const radius = (stroke.sizePx / 2) * scale;
  let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 2) {
    minX = Math.min(minX, toX(points[i]));
    maxX = Math.max(maxX, toX(points[i]));
    minY = Math.min(minY, toY(points[i + 1]));
    maxY = Math.max(maxY, toY(points[i + 1]));
  }
  const left = Math.max(0, Math.floor(minX - radius - 1));
  const top = Math.max(0, Math.floor(minY - radius - 1));
  const right = Math.min(width, Math.ceil(maxX + radius + 2));
  const bottom = Math.min(height, Math.ceil(maxY + radius + 2));
  if (!(right > left && bottom > top)) return null;
  const values = new Float32Array((right - left) * (bottom - top));
  for (let i = 0; i < points.length; i += 2) {
    const next = Math.min(i + 2, points.length - 2);
    if (i > 0 && next === i) break;
    const [x0, y0, x1, y1] = [toX(points[i]), toY(points[i + 1]), toX(points[next]), toY(points[next + 1])];
    const fromX = Math.max(left, Math.floor(Math.min(x0, x1) - radius - 1));
    const toXEnd = Math.min(right, Math.ceil(Math.max(x0, x1) + radius + 2));
    const fromY = Math.max(top, Math.floor(Math.min(y0, y1) - radius - 1));
    const toYEnd = Math.min(bottom, Math.ceil(Math.max(y0, y1) + radius + 2));
    for (let y = fromY; y < toYEnd; y++) {
      for (let x = fromX; x < toXEnd; x++) {
        const c = brushProfile(distanceToSegment(x, y, x0, y0, x1, y1), radius, stroke.featherPercent, 1);
        const at = (y - top) * (right - left) + x - left;
        if (c > values[at]) values[at] = c;
      }
    }
  }
  return { left, top, right, bottom, values };
}

/** From (x, y) to the straight line between two points. */
export function distanceToSegment(x: number, y: number, x0: number, y0: number, x1: number, y1: number): number {
  const dx = x1 - x0;
  const dy = y1 - y0;
  const length = dx * dx + dy * dy;
  const t = length > 0 ? Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / length)) : 0;
  return Math.hypot(x - x0 - t * dx, y - y0 - t * dy);
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
 * The operations that matter to `region`: strokes and areas that end outside it draw nothing there. One is always kept,
 * since a mask without operations means the whole frame. A change elsewhere leaves the list as it was.
 */
export function operationsNear(operations: readonly MaskOperation[], region: Region): MaskOperation[] {
  const near = operations.filter((operation) => {
    if (operation.isOff) return false;
    if (operation.kind === 'invert') return true;
    if (operation.kind === 'stroke') return touches(operation, region);
    const bounds = boundsOfArea(operation);
    return bounds !== null && !isEmpty(intersect(bounds, region));
  });
  return near.length > 0 ? near : operations.slice(0, 1);
}

function touches({ points, sizePx }: Stroke, region: Region): boolean {
  const reach = sizePx / 2 + 1;
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 2) {
    left = Math.min(left, points[i]);
    right = Math.max(right, points[i]);
    top = Math.min(top, points[i + 1]);
    bottom = Math.max(bottom, points[i + 1]);
  }
  return (
    left - reach < region.x + region.width &&
    right + reach > region.x &&
    top - reach < region.y + region.height &&
    bottom + reach > region.y
  );
}
