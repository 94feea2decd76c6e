import { expect, it } from 'vitest';
import { gaussianBlur, gradeOfPlace, seededRandom, type Plane } from '../../src';
import { deadLeaves } from '../synthetic';

const scene = deadLeaves(160, 160, 3);
const colours = (plane: Plane) => [plane, plane, plane];
const soft = gaussianBlur(scene, 1.5);
const place = { x: 0, y: 0, width: 96, height: 96 };
const grade = (result: Plane, verdict: 'safe' | 'check' | 'damaged' | 'not measurable') =>
  gradeOfPlace('eye', place, colours(result), colours(scene), colours(soft), verdict);

it('an alarm is right where a place became worse, false where it became better', () => {
  const random = seededRandom(4);
  const noisy = { ...soft, data: soft.data.map((value) => value + 0.1 * random.normal()) };
  expect(grade(noisy, 'damaged')).toMatchObject({ outcome: 'right alarm', name: 'eye', width: 96 });
  expect(grade(noisy, 'safe').outcome).toBe('missed');
  expect(grade(scene, 'check').outcome).toBe('false alarm');
  expect(grade(scene, 'safe').outcome).toBe('rightly quiet');
  expect(grade(noisy, 'not measurable').outcome).toBe('not judged');
  expect(grade(noisy, 'safe').gain).toBeLessThan(-0.5);
  expect(grade(scene, 'safe').gain).toBeGreaterThan(3);
});

it('rims are damage even where a place came nearer to the truth', () => {
  const wide = gaussianBlur(scene, 2.5);
  const sharpened = { ...soft, data: soft.data.map((value, i) => value + 1.8 * (value - wide.data[i])) };
  const found = grade(sharpened, 'safe');
  expect(found.halo).toBeGreaterThan(1.5);
  expect(found.outcome).toBe('missed');
});
