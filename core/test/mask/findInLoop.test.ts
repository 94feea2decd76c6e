import { describe, expect, it } from 'vitest';
import { findInLoop, findSubject, insideLoop, subjectArea, type Plane } from '../../src';
import '../fastKernels';
import { deadLeaves } from '../synthetic';

const [WIDTH, HEIGHT] = [180, 120];
/** Two sharp round things of one texture and different colours before a plain ground. */
const texture = deadLeaves(WIDTH, HEIGHT, 91, 1.2);
const isLeft = (i: number) => Math.hypot((i % WIDTH) - 50, Math.floor(i / WIDTH) - 60) < 26;
const isRight = (i: number) => Math.hypot((i % WIDTH) - 130, Math.floor(i / WIDTH) - 60) < 26;
const channel = (left: number, right: number, ground: number): Plane => ({
  ...texture,
  data: texture.data.map((value, i) => (isLeft(i) ? left * value : isRight(i) ? right * value : ground)),
});
const picture = [channel(1, 0.3, 0.25), channel(0.5, 0.4, 0.3), channel(0.3, 1, 0.25)];
const small = findSubject(picture);
const loopRound = (x: number, y: number, radius: number) =>
  Array.from({ length: 24 }, (_, k) => {
    const angle = (2 * Math.PI * k) / 24;
    return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)];
  }).flat();
const overlap = (labels: Uint8Array, truth: (i: number) => boolean) => {
  let [both, either] = [0, 0];
  labels.forEach((label, i) => {
    both += label === 1 && truth(i) ? 1 : 0;
    either += label === 1 || truth(i) ? 1 : 0;
  });
  return both / either;
};

describe('a first dab', () => {
  it('on one of two things that were found means that one', () => {
    expect(overlap(small.labels, (i) => isLeft(i) || isRight(i))).toBeGreaterThan(0.9);
    const dab = (x: number) => subjectArea(picture, [{ x, y: 60, radius: 5, isSubject: true }], []);
    const labelsOf = ({ data }: Plane) => Uint8Array.from(data, (value) => (value > 0.5 ? 1 : 0));
    expect(overlap(labelsOf(dab(50)), isLeft)).toBeGreaterThan(0.9);
    expect(overlap(labelsOf(dab(130)), isRight)).toBeGreaterThan(0.9);
  });
});

describe('what lies in a loop', () => {
  it('is found alone, though another thing is as sharp', () => {
    expect(overlap(findInLoop(small, loopRound(50, 60, 33)), isLeft)).toBeGreaterThan(0.92);
    expect(overlap(findInLoop(small, loopRound(130, 60, 33)), isRight)).toBeGreaterThan(0.92);
  });

  it('never reaches out of the loop, and is nothing where the loop holds nothing', () => {
    const loop = loopRound(50, 60, 20);
    const inside = insideLoop(loop, WIDTH, HEIGHT);
    findInLoop(small, loop).forEach((label, i) => expect(label <= inside[i]).toBe(true));
    expect(findInLoop(small, [10, 10, 10, 10, 10, 10]).includes(1)).toBe(false);
  });

  it('a sample lies inside by the even-odd rule, in either sense of turning', () => {
    const square = [2, 2, 6, 2, 6, 5, 2, 5];
    const drawn = insideLoop(square, 10, 8);
    expect(drawn.reduce((sum, value) => sum + value, 0)).toBe(5 * 3);
    const turned = [2, 5, 6, 5, 6, 2, 2, 2];
    expect(insideLoop(turned, 10, 8)).toEqual(drawn);
  });
});
