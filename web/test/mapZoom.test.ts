import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { zoomedAbout } from '../src/workspace/useMapZoom';

const MAP = { width: 262, height: 175 };
const FRAME = { width: 8384, height: 5600 };
const FITTED = { scale: 262 / 8384, left: 0, top: 0 };

describe('the map of the frame', () => {
  it('keeps the point under the pointer in place and never shows beyond the frame', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.constantFrom(1.3, 1 / 1.3, 4),
            fc.integer({ min: 0, max: 261 }),
            fc.integer({ min: 0, max: 174 }),
          ),
        ),
        (presses) => {
          let place = FITTED;
          for (const [factor, x, y] of presses) {
            const before = [(x - place.left) / place.scale, (y - place.top) / place.scale];
            const isNearer = factor > 1;
            place = zoomedAbout(MAP, FRAME, place, factor, x, y);
            expect(place.left).toBeLessThanOrEqual(0);
            expect(place.left + FRAME.width * place.scale).toBeGreaterThanOrEqual(MAP.width - 1e-6);
            expect(place.top + FRAME.height * place.scale).toBeGreaterThanOrEqual(MAP.height - 1);
            if (!isNearer) continue;
            expect((x - place.left) / place.scale).toBeCloseTo(before[0], 3);
            expect((y - place.top) / place.scale).toBeCloseTo(before[1], 3);
          }
        },
      ),
    );
  });

  it('an eye of 60 px in 45 megapixels becomes a place that a press hits', () => {
    const place = zoomedAbout(MAP, FRAME, FITTED, 100, 100, 80);
    expect(60 * place.scale).toBeGreaterThan(24);
  });
});
