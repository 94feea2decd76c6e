import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { networkOf } from '../../src';

/** A file in the open form, written as its description says: header's length, header, numbers. */
function fileOf(header: object, numbers: readonly number[]): ArrayBuffer {
  const text = new TextEncoder().encode(JSON.stringify(header));
  const bytes = new Uint8Array(8 + text.length + 4 * numbers.length);
  new DataView(bytes.buffer).setBigUint64(0, BigInt(text.length), true);
  bytes.set(text, 8);
  numbers.forEach((value, i) => new DataView(bytes.buffer).setFloat32(8 + text.length + 4 * i, value, true));
  return bytes.buffer;
}

const entry = (outputs: number, inputs: number, from: number) => ({
  dtype: 'F32',
  shape: [outputs, inputs, 3, 3],
  data_offsets: [from, from + 36 * outputs * inputs],
});

describe('weights', () => {
  it('are read in the order of their names, whatever the order in the file', () => {
    const numbers = Array.from({ length: 72 + 36 }, (_, i) => i / 4);
    const file = fileOf({ b: entry(4, 2, 0), a: entry(4, 1, 288), __metadata__: { card: 'README' } }, numbers);
    const [first, second] = networkOf(file);
    expect(first).toMatchObject({ inputs: 1, outputs: 4 });
    expect([...first.weights]).toEqual(numbers.slice(72));
    expect(second).toMatchObject({ inputs: 2, outputs: 4 });
    expect([...second.weights]).toEqual(numbers.slice(0, 72));
  });

  it.each([
    ['cut off', new ArrayBuffer(5)],
    ['no header', new Uint8Array([255, 0, 0, 0, 0, 0, 0, 0, 1]).buffer],
    ['no list of tensors', fileOf([{ dtype: 'F16' }], [])],
    ['of half precision', fileOf({ a: { ...entry(4, 1, 0), dtype: 'F16' } }, new Array<number>(36).fill(0))],
    ['of 5 × 5', fileOf({ a: { ...entry(4, 1, 0), shape: [4, 1, 5, 5] } }, new Array<number>(36).fill(0))],
    ['of a wrong length', fileOf({ a: { ...entry(4, 1, 0), data_offsets: [0, 12] } }, [1, 2, 3])],
  ])('%s: refused in a sentence', (_, file) => {
    expect(() => networkOf(file)).toThrow(/learned network/);
  });

  it('that ship are under 2 MB, and the eight convolutions of the card', () => {
    const file = readFileSync(new URL('../../../kernels/wasm/texture.safetensors', import.meta.url));
    expect(file.length).toBeLessThan(2e6);
    const network = networkOf(new Uint8Array(file).buffer);
    expect(network.map(({ inputs, outputs }) => [inputs, outputs])).toEqual([
      [44, 32],
      ...Array.from({ length: 6 }, () => [32, 32]),
      [32, 12],
    ]);
    expect(network.every(({ weights }) => weights.every(Number.isFinite))).toBe(true);
  });
});
