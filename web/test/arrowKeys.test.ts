import { describe, expect, it } from 'vitest';
import { nextInGrid, nextInGroup } from '../src/input/arrowKeys';
import { afterKey } from '../src/input/keyPointer';

describe('tabs and radios', () => {
  it('go round by arrows, to the ends by Home and End', () => {
    expect(nextInGroup('ArrowRight', 2, 3)).toBe(0);
    expect(nextInGroup('ArrowDown', 0, 3)).toBe(1);
    expect(nextInGroup('ArrowLeft', 0, 3)).toBe(2);
    expect(nextInGroup('Home', 2, 3)).toBe(0);
    expect(nextInGroup('End', 0, 3)).toBe(2);
    expect(nextInGroup('a', 0, 3)).toBeNull();
    expect(nextInGroup('ArrowRight', 0, 0)).toBeNull();
  });
});

describe('a grid', () => {
  it('moves one cell at a time and stops at its edges; a shorter row takes the last of its own', () => {
    const lengths = [4, 2, 4];
    expect(nextInGrid('ArrowRight', 0, 3, lengths)).toEqual({ row: 0, column: 3 });
    expect(nextInGrid('ArrowDown', 0, 3, lengths)).toEqual({ row: 1, column: 1 });
    expect(nextInGrid('ArrowUp', 0, 1, lengths)).toEqual({ row: 0, column: 1 });
    expect(nextInGrid('ArrowLeft', 2, 2, lengths)).toEqual({ row: 2, column: 1 });
    expect(nextInGrid('Enter', 0, 0, lengths)).toBeNull();
  });
});

describe('a point moved by keys', () => {
  const frame = { width: 100, height: 60 };
  const at = (x: number, y: number, isDown = false) => ({ x, y, isDown });
  const key = (name: string, shiftKey = false) => ({ key: name, shiftKey });

  it('moves by its step, ten times as far with Shift, and stays on the frame', () => {
    expect(afterKey(at(50, 30), key('ArrowRight'), frame, 2, true)).toEqual({ point: at(52, 30), act: 'move' });
    expect(afterKey(at(50, 30), key('ArrowUp', true), frame, 2, true)).toEqual({ point: at(50, 10), act: 'move' });
    expect(afterKey(at(95, 30), key('ArrowRight', true), frame, 2, true)!.point).toEqual(at(99, 30));
    expect(afterKey(at(1, 1), key('ArrowLeft', true), frame, 2, true)!.point).toEqual(at(0, 1));
  });

  it('Enter begins and ends a stroke, Escape ends it too; where nothing is drawn Enter presses', () => {
    expect(afterKey(at(5, 5), key('Enter'), frame, 2, true)).toEqual({ point: at(5, 5, true), act: 'down' });
    expect(afterKey(at(9, 5, true), key('Enter'), frame, 2, true)).toEqual({ point: at(9, 5), act: 'up' });
    expect(afterKey(at(9, 5, true), key('Escape'), frame, 2, true)).toEqual({ point: at(9, 5), act: 'up' });
    expect(afterKey(at(9, 5), key('Escape'), frame, 2, true)).toBeNull();
    expect(afterKey(at(5, 5), key('Enter'), frame, 2, false)).toEqual({ point: at(5, 5), act: 'press' });
    expect(afterKey(at(5, 5), key('q'), frame, 2, false)).toBeNull();
  });
});
