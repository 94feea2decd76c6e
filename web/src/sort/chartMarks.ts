import { max } from 'd3-array';
import { scaleSqrt, type ScalePower } from 'd3-scale';
import type { Pile } from '@vitrocept/core';
import type { SheetFrame } from '@vitrocept/server';
import { markPath } from './pileMarks';
import { pileOfFrame } from './sheetFrame';

export const CHART = { width: 600, height: 208, left: 34, right: 12, top: 10, bottom: 30 };
/** Axes reach at least so far: a shoot of sharp frames must not look soft. */
const LEAST_BLUR_PX = 12;
const LEAST_NOISE = 3;

export interface ChartScales {
  readonly x: ScalePower<number, number>;
  readonly y: ScalePower<number, number>;
}

/** Blur in px across, noise in percent up; both by their root, since small faults are the many. */
export function chartScales(frames: readonly SheetFrame[]): ChartScales {
  const most = (pick: (frame: SheetFrame) => number, least: number) => Math.max(least, max(frames, pick) ?? 0);
  const blur = most((frame) => frame.sortedAs?.blurSizePx ?? 0, LEAST_BLUR_PX);
  const noise = most((frame) => frame.sortedAs?.noisePercent ?? 0, LEAST_NOISE);
  return {
    x: scaleSqrt([0, blur], [CHART.left, CHART.width - CHART.right]).nice(),
    y: scaleSqrt([0, noise], [CHART.height - CHART.bottom, CHART.top]).nice(),
  };
}

export interface ChartMark {
  readonly frame: SheetFrame;
  readonly x: number;
  readonly y: number;
  readonly pile: Pile;
}

export function chartMarks(frames: readonly SheetFrame[], { x, y }: ChartScales): ChartMark[] {
  return frames.flatMap((frame) => {
    const pile = pileOfFrame(frame);
    if (!pile || !frame.sortedAs) return [];
    return [{ frame, pile, x: x(frame.sortedAs.blurSizePx), y: y(frame.sortedAs.noisePercent) }];
  });
}

/** All marks of a pile as one outline: thousands are drawn at once. */
export function outlineOf(marks: readonly ChartMark[], pile: Pile): string {
  const shape = numbersOf(markPath(pile));
  return marks
    .filter((mark) => mark.pile === pile)
    .map(({ x, y }) => shape(x, y))
    .join('');
}

/** A path made of M, L and A around 0, 0, moved. */
function numbersOf(path: string): (x: number, y: number) => string {
  const parts = [...path.matchAll(/([MLAZ])([^MLAZ]*)/g)].map(([, letter, rest]) => ({
    letter,
    values: rest.split(/[ ,]+/).filter(Boolean).map(Number),
  }));
  return (x, y) =>
    parts
      .map(({ letter, values }) => {
        const moved = values.slice();
        const end = moved.length - 2;
        if (end >= 0) {
          moved[end] += x;
          moved[end + 1] += y;
        }
        return letter + moved.map((value) => String(Math.round(100 * value) / 100)).join(',');
      })
      .join('');
}

export interface Brushed {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

export const idsWithin = (marks: readonly ChartMark[], { left, top, right, bottom }: Brushed): string[] =>
  marks.filter(({ x, y }) => x >= left && x <= right && y >= top && y <= bottom).map(({ frame }) => frame.id);

/** The mark nearest to a place, within so many px. */
export function nearestMark(marks: readonly ChartMark[], x: number, y: number, reach: number): ChartMark | null {
  let best: ChartMark | null = null;
  let least = reach;
  for (const mark of marks) {
    const distance = Math.hypot(mark.x - x, mark.y - y);
    if (distance <= least) [best, least] = [mark, distance];
  }
  return best;
}
