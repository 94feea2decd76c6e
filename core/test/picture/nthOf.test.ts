import fc from 'fast-check';
import { expect, it } from 'vitest';
import { nthOf } from '../../src/picture/nthOf';

it('the value at a place is that of the sorted values, which stay as they were', () => {
  fc.assert(
    fc.property(
      fc.float32Array({ min: 0, max: 4, noNaN: true, minLength: 1, maxLength: 300 }),
      fc.nat(),
      (drawn, at) => {
        const values = drawn.map(Math.abs);
        const before = values.slice();
        const place = at % values.length;
        expect(nthOf(values, place)).toBe(values.slice().sort()[place]);
        expect(values).toEqual(before);
      },
    ),
  );
});
