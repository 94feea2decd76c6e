import { describe, expect, it } from 'vitest';
import { CELL_PX, equalLines, thinned } from '../src/measure/blurLines';

const frame = { width: 480, height: 240 };
/** 2 px of blur at the left, rising to 10 px at the right. */
const places = Array.from({ length: 66 }, (_, i) => {
  const x = 24 + (i % 11) * 43;
  return { x, y: 20 + Math.floor(i / 11) * 40, blurSizePx: 2 * 5 ** ((x - 24) / 430) };
});

describe('lines of equal blur', () => {
  it('stand where the size is reached, and only at sizes that occur', () => {
    const { lines } = equalLines(frame, places);
    expect(lines.map(({ level }) => level)).toEqual([3, 6]);
    const [three, six] = lines.map(({ path }) => {
      const across = [...path.matchAll(/[ML](-?[\d.]+),(-?[\d.]+)/g)].map(([, x]) => Number(x));
      // The rim of the frame belongs to the shape too.
      return Math.min(...across.filter((x) => x > 30));
    });
    const reached = (size: number) => 24 + (430 * Math.log(size / 2)) / Math.log(5);
    expect(Math.abs(three - reached(3))).toBeLessThan(CELL_PX);
    expect(Math.abs(six - reached(6))).toBeLessThan(CELL_PX);
  });

  it('are calm: a few places read wrongly draw no islands of their own', () => {
    const odd = new Set([13, 29, 38, 52]);
    const scattered = places.map((place, i) => (odd.has(i) ? { ...place, blurSizePx: place.blurSizePx * 2.2 } : place));
    const pieces = equalLines(frame, scattered).lines.map(({ path }) => (path.match(/M/g) ?? []).length);
    expect(pieces.every((count) => count === 1)).toBe(true);
  });

  it('are known near a measured place and nowhere else', () => {
    const { known } = equalLines(frame, [{ x: 60, y: 60, blurSizePx: 4 }]);
    expect(known.length).toBeGreaterThan(8);
    for (const { x, y } of known) expect(Math.hypot(x + 12 - 60, y + 12 - 60)).toBeLessThan(56);
  });
});

describe('places drawn', () => {
  it('are one a square, the nearest to its middle', () => {
    const drawn = thinned(places, 120);
    expect(drawn).toHaveLength(8);
    const squares = new Set(drawn.map(({ x, y }) => `${Math.floor(x / 120)} ${Math.floor(y / 120)}`));
    expect(squares.size).toBe(8);
    for (const place of drawn) expect(places).toContain(place);
  });

  it('are all of them where there is room', () => {
    expect(thinned(places, 30)).toHaveLength(places.length);
  });
});
