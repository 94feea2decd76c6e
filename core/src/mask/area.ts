import { drawnOver } from '../picture/drawnOver';
import { createPlane, type Plane } from '../picture/plane';
import type { Region, Size } from '../picture/region';
import { scaledDown } from '../picture/scaledDown';
import { contentKey } from '../contentKey';
import type { AreaOperation, MaskOperation } from './maskOperation';

/** Sides of the coverage that is kept; a larger frame's is coarser than the frame. */
export const MOST_AREA_SIDE = 2048;

/** Levels a sample is kept with; each is one character from '0' on. */
const LEVELS = 64;
const FIRST_LEVEL = '0'.charCodeAt(0);
/** Digits of run lengths, from 'p' on; a sample alone has none. */
const BASE = 15;
const FIRST_DIGIT = 'p'.charCodeAt(0);

/** Coverage 0..1 as text: a level, and how many samples in a row have it. Most of a mask is 0 or 1. */
export function packCoverage({ data }: Plane): string {
  const parts: string[] = [];
  for (let i = 0; i < data.length;) {
    const level = levelOf(data[i]);
    let run = 1;
    while (i + run < data.length && levelOf(data[i + run]) === level) run++;
    let digits = '';
    for (let rest = run; run > 1 && rest > 0; rest = Math.floor(rest / BASE)) {
      digits = String.fromCharCode(FIRST_DIGIT + (rest % BASE)) + digits;
    }
    parts.push(String.fromCharCode(FIRST_LEVEL + level) + digits);
    i += run;
  }
  return parts.join('');
}

const levelOf = (value: number) => Math.round((LEVELS - 1) * Math.min(1, Math.max(0, value)));

/** What `packCoverage` packed; null where the text does not hold exactly width × height samples. */
export function unpackCoverage(text: string, width: number, height: number): Plane | null {
  const plane = createPlane(width, height);
  let [to, at] = [0, 0];
  while (at < text.length) {
    const level = text.charCodeAt(at++) - FIRST_LEVEL;
    if (level < 0 || level >= LEVELS) return null;
    let run = 0;
    let isRun = false;
    for (; at < text.length && text.charCodeAt(at) >= FIRST_DIGIT; at++) {
      run = run * BASE + text.charCodeAt(at) - FIRST_DIGIT;
      isRun = true;
    }
    if (!isRun) run = 1;
    if (to + run > plane.data.length) return null;
    plane.data.fill(level / (LEVELS - 1), to, to + run);
    to += run;
  }
  return to === plane.data.length ? plane : null;
}

/** An area as an operation; `coverage` lies over the whole frame at some smaller scale. */
export function areaOperation(
  coverage: Plane,
  frame: Size,
  mode: AreaOperation['mode'],
  from: AreaOperation['from'],
): AreaOperation {
  const values = packCoverage(coverage);
  const { width, height } = coverage;
  const key = contentKey([width, height, values]);
  return { kind: 'area', mode, from, frameWidth: frame.width, frameHeight: frame.height, width, height, values, key };
}

/** Coverage of a whole frame as it is kept: no side over MOST_AREA_SIDE. */
export function keptCoverage(coverage: Plane): Plane {
  return scaledDown(coverage, Math.min(1, MOST_AREA_SIDE / Math.max(coverage.width, coverage.height)));
}

const unpacked = new WeakMap<AreaOperation, Plane>();

function coverageOf(area: AreaOperation): Plane {
  const known = unpacked.get(area) ?? unpackCoverage(area.values, area.width, area.height);
  const plane = known ?? createPlane(area.width, area.height);
  unpacked.set(area, plane);
  return plane;
}

/**
 * Coverage of an area over `region` of its frame, `scale` drawn px per px of the frame; bilinear between its samples.
 */
export function drawArea(area: AreaOperation, region: Region, scale: number, width: number, height: number): Plane {
  const coverage = coverageOf(area);
  const [perX, perY] = [area.width / area.frameWidth, area.height / area.frameHeight];
  return drawnOver(coverage, {
    width,
    height,
    x: region.x * perX,
    y: region.y * perY,
    stepX: perX / scale,
    stepY: perY / scale,
  });
}

const bounds = new WeakMap<AreaOperation, Region | null>();

/** Where an area covers anything at all, px of the frame, with a sample around; null where nowhere. */
export function boundsOfArea(area: AreaOperation): Region | null {
  const known = bounds.get(area);
  if (known !== undefined) return known;
  const { width, height, data } = coverageOf(area);
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let i = 0; i < data.length; i++) {
    if (data[i] === 0) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = y;
  }
  const [perX, perY] = [area.frameWidth / width, area.frameHeight / height];
  const found =
    right < 0
      ? null
      : {
          x: Math.floor((left - 1) * perX),
          y: Math.floor((top - 1) * perY),
          width: Math.ceil((right - left + 3) * perX),
          height: Math.ceil((bottom - top + 3) * perY),
        };
  bounds.set(area, found);
  return found;
}

/** Equal keys, equal masks. An area's own key stands for its coverage, which is long. */
export function keyOfOperations(operations: readonly MaskOperation[]): string {
  return contentKey(
    operations.map((operation) => (operation.kind === 'area' ? { ...operation, values: '' } : operation)),
  );
}
