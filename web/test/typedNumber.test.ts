import { describe, expect, it } from 'vitest';
import { placeOnSlider, SLIDER_STEPS, typedNumber, valueOnSlider } from '../src/input/typedNumber';

describe('a number field', () => {
  it('takes a number within the bounds, with a point or a comma', () => {
    expect(typedNumber('7,5', 0, 40)).toBe(7.5);
    expect(typedNumber(' 60 ', 0, 40)).toBe(40);
    expect(typedNumber('-3', 0, 40)).toBe(0);
  });

  it('takes nothing from an empty field or from letters: clearing is not 0', () => {
    for (const text of ['', '  ', 'abc', '1e999', 'NaN']) expect(typedNumber(text, 0, 100)).toBeNull();
  });
});

describe('a slider that is finer for small values', () => {
  it('reaches both ends and comes back to the value it stands on', () => {
    expect(valueOnSlider(0, 50, 0.3, 200, 0.1)).toBe(0.3);
    expect(valueOnSlider(SLIDER_STEPS, 50, 0.3, 200, 0.1)).toBe(200);
    for (const value of [0.3, 2.1, 7, 40, 123.4]) {
      const place = placeOnSlider(value, 0.3, 200);
      expect(Math.abs(valueOnSlider(place, value, 0.3, 200, 0.1) - value)).toBeLessThanOrEqual(0.1 + value / 100);
    }
  });

  it('never sticks: one place further changes the value by a step at least, both ways', () => {
    for (let value = 0.4; value < 199; value = Number((value + 0.7).toFixed(1))) {
      const place = placeOnSlider(value, 0.3, 200);
      expect(valueOnSlider(place + 1, value, 0.3, 200, 0.1)).toBeGreaterThan(value);
      expect(valueOnSlider(place - 1, value, 0.3, 200, 0.1)).toBeLessThan(value);
    }
  });
});
