import { describe, expect, it } from 'vitest';
import { runNetwork, type Convolution, type Stack } from '../../src';

/** Weights of a convolution, all 0 but those given as [output, input, row, column, weight]. */
function convolution(
  inputs: number,
  outputs: number,
  taps: readonly (readonly [number, number, number, number, number])[],
): Convolution {
  const weights = new Float32Array(9 * inputs * outputs);
  for (const [o, i, row, column, weight] of taps) weights[(o * inputs + i) * 9 + 3 * row + column] = weight;
  return { inputs, outputs, weights };
}

/** Each channel as it was. */
const passing = (channels: number) =>
  convolution(
    channels,
    channels,
    Array.from({ length: channels }, (_, c) => [c, c, 1, 1, 1] as const),
  );

const stack = (values: readonly number[], width: number): Stack => ({
  width,
  height: values.length / width,
  channels: 4,
  data: Float32Array.from({ length: 4 * values.length }, (_, i) => (i < values.length ? values[i] : 0)),
});

const firstOf = ({ data, width, height }: Stack) => [...data.slice(0, width * height)];

describe('the network', () => {
  it('takes each weight to the sample that lies there: correlation, not mirrored', () => {
    const left = convolution(4, 4, [[0, 0, 1, 0, 1]]);
    const below = convolution(4, 4, [[0, 0, 2, 1, 1]]);
    expect(firstOf(runNetwork(stack([1, 2, 3, 4, 5, 6], 3), [left, passing(4)]))).toEqual([1, 1, 2, 4, 4, 5]);
    expect(firstOf(runNetwork(stack([1, 2, 3, 4, 5, 6], 3), [below, passing(4)]))).toEqual([4, 5, 6, 4, 5, 6]);
  });

  it('sums over its inputs', () => {
    const both = convolution(4, 4, [
      [0, 0, 1, 1, 2],
      [0, 1, 1, 1, 1],
    ]);
    const { data } = stack([1, 2], 2);
    data.set([10, 20], 2);
    expect(firstOf(runNetwork({ width: 2, height: 1, channels: 4, data }, [both, passing(4)]))).toEqual([12, 24]);
  });

  it('leaks a tenth below nought after the first convolution, and nothing after the last', () => {
    const [positive, negative] = firstOf(runNetwork(stack([2, -2], 2), [passing(4), passing(4)]));
    expect(positive).toBe(2);
    expect(negative).toBeCloseTo(-0.2, 6);
    const turned = convolution(4, 4, [[0, 0, 1, 1, -1]]);
    expect(firstOf(runNetwork(stack([2, 2], 2), [passing(4), turned]))).toEqual([-2, -2]);
  });

  it('goes around each pair: what a pair gives is added', () => {
    const half = convolution(4, 4, [[0, 0, 1, 1, 0.5]]);
    // 4, then 4 + 0.5 · 4, then that + 0.5 · that.
    const around = [passing(4), half, passing(4), half, passing(4), passing(4)];
    expect(firstOf(runNetwork(stack([4, 4], 2), around))).toEqual([9, 9]);
  });

  it('scales with what it is given, since nothing is added inside', () => {
    const net = [passing(4), convolution(4, 4, [[0, 0, 0, 0, -0.7]]), passing(4), passing(4)];
    const one = runNetwork(stack([1, -2, 3, 4], 2), net);
    const eight = runNetwork(stack([8, -16, 24, 32], 2), net);
    expect([...eight.data]).toEqual([...one.data].map((value) => 8 * value));
  });

  it('refuses parts that do not fit, and stops when asked', () => {
    const given = stack([1, 2], 2);
    expect(() => runNetwork(given, [passing(4)])).toThrow('do not fit');
    expect(() => runNetwork(given, [passing(8), passing(8)])).toThrow('do not fit');
    expect(() => runNetwork(given, [passing(4), { ...passing(4), weights: new Float32Array(3) }])).toThrow('not fit');
    let asked = 0;
    expect(() => runNetwork(given, [passing(4), passing(4)], () => ++asked === 2)).toThrow('Stopped.');
    expect(asked).toBe(2);
  });
});
