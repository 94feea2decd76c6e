import { describe, expect, it } from 'vitest';
import { fallOffGain, measureDistortion, measureFallOff, middleOf, toLevel, type Plane } from '../../src';
import { gaussianBlur } from '../../src/picture/gaussianBlur';
import { deadLeaves, withNoise } from '../synthetic';

const SIZE = { width: 900, height: 600 };

function drawn(light: (x: number, y: number) => number, { width, height } = SIZE): Plane {
  const data = Float32Array.from({ length: width * height }, (_, i) => light(i % width, Math.floor(i / width)));
  return { width, height, data };
}

function darkened(plane: Plane, percent: number): Plane {
  const { x: mx, y: my, corner } = middleOf(plane);
  const gain = fallOffGain(percent);
  return {
    ...plane,
    data: plane.data.map((value, i) => {
      const [u, v] = [(i % plane.width) - mx, Math.floor(i / plane.width) - my];
      return value / gain((u * u + v * v) / corner);
    }),
  };
}

describe('fall-off measured', () => {
  const leaves = deadLeaves(SIZE.width, SIZE.height, 31, 8);
  // A sky that is brighter above, as out of doors.
  const sky = drawn((_, y) => 0.55 - (0.2 * y) / SIZE.height);

  it.each([
    ['leaves', leaves, 30],
    ['leaves', leaves, 42],
    ['a sky with a gradient of its own', sky, 25],
  ])('%s: what was planted is found within 5 percent', (_, scene, percent) => {
    const found = measureFallOff(withNoise(darkened(scene, percent), 0.004, 3));
    expect(Math.abs(found! - percent)).toBeLessThan(5);
  });

  it('finds none, or says nothing, where none is', () => {
    for (const scene of [leaves, sky]) expect(measureFallOff(withNoise(scene, 0.004, 4)) ?? 0).toBe(0);
  });

  it('says nothing of a bright thing before a dark ground, and of what is clipped or black', () => {
    const lamp = drawn((x, y) => 0.02 + 0.8 * Math.exp(-((x - 250) ** 2 + (y - 380) ** 2) / 2e4));
    expect(measureFallOff(withNoise(lamp, 0.004, 5)) ?? 0).toBe(0);
    expect(measureFallOff(drawn(() => 1))).toBeNull();
    expect(measureFallOff(drawn(() => 0))).toBeNull();
  });
});

describe('distortion measured', () => {
  /** Planks seen through a lens that bends lines by so much. */
  const planks = (distortionPercent: number) => {
    const levelling = { frame: SIZE, straightenDeg: 0, distortionPercent };
    const lit = drawn((x, y) => {
      const at = toLevel(levelling, { x, y });
      const plank = Math.floor((at.y + 0.03 * at.x + 1000) / 67);
      return 0.1 + 0.15 * ((plank * 7) % 5);
    });
    return withNoise(gaussianBlur(lit, 0.8), 0.004, 6);
  };

  it.each([4, -4, 9, 0])('planks bent by %s percent: found within 0.5', (percent) => {
    expect(Math.abs(measureDistortion(planks(percent))! - percent)).toBeLessThan(0.5);
  });

  it('says nothing where no line is long enough, or where only round things are', () => {
    expect(
      measureDistortion(
        withNoise(
          drawn(() => 0.3),
          0.01,
          7,
        ),
      ),
    ).toBeNull();
    const round = drawn((x, y) => 0.2 + 0.5 * (Math.floor(Math.hypot(x - 450, y - 300) / 40) % 2));
    expect(measureDistortion(gaussianBlur(round, 0.8)) ?? 0).toBe(0);
  });
});
