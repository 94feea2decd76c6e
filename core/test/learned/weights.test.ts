import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { halfPrecision, networkOf, networksOf } from '../../src';

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

  it('of several networks are told apart by what stands before the point', () => {
    const numbers = Array.from({ length: 108 }, (_, i) => i);
    const file = fileOf({ 'up.1': entry(4, 1, 0), down: entry(4, 1, 144), 'up.0': entry(4, 1, 288) }, numbers);
    const networks = networksOf(file);
    expect([...networks.keys()].sort()).toEqual(['down', 'up']);
    expect(networks.get('up')!.map(({ weights }) => weights[0])).toEqual([72, 0]);
  });

  it.each([
    // IEEE 754-2019, binary16; as Wikipedia's “Half-precision floating-point format” lists them.
    [0x0000, 0],
    [0x8000, -0],
    [0x0001, 0.000000059604645],
    [0x03ff, 0.000060975552],
    [0x0400, 0.00006103515625],
    [0x3555, 0.33325195],
    [0x3bff, 0.99951172],
    [0x3c00, 1],
    [0x3c01, 1.00097656],
    [0x7bff, 65504],
    [0xc000, -2],
    [0x7c00, Infinity],
    [0xfc00, -Infinity],
    [0x7e00, NaN],
  ])('16 bits %i are %d', (bits, value) => {
    if (Number.isFinite(value) && value !== 0) expect(halfPrecision(bits) / value).toBeCloseTo(1, 7);
    else expect(halfPrecision(bits)).toBe(value);
  });

  it('of half precision are read', () => {
    const { buffer } = new Uint8Array(fileOf({ a: { ...entry(4, 1, 0), dtype: 'F16', data_offsets: [0, 72] } }, []));
    const file = new Uint8Array(buffer.byteLength + 72);
    file.set(new Uint8Array(buffer));
    new DataView(file.buffer).setUint16(buffer.byteLength + 70, 0xc000, true);
    const [{ weights }] = networkOf(file.buffer);
    expect([weights.length, weights[34], weights[35]]).toEqual([36, 0, -2]);
  });

  it.each([
    ['cut off', new ArrayBuffer(5)],
    ['no header', new Uint8Array([255, 0, 0, 0, 0, 0, 0, 0, 1]).buffer],
    ['no list of tensors', fileOf([{ dtype: 'F16' }], [])],
    ['of double precision', fileOf({ a: { ...entry(4, 1, 0), dtype: 'F64' } }, new Array<number>(36).fill(0))],
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

  it('by which subjects are told are under 2 MB, four parts down and three up', () => {
    const file = readFileSync(new URL('../../../kernels/wasm/subject.safetensors', import.meta.url));
    expect(file.length).toBeLessThan(2e6);
    const parts = networksOf(new Uint8Array(file).buffer);
    expect([...parts].map(([name, part]) => [name, part.length]).sort()).toEqual([
      ['down0', 2],
      ['down1', 4],
      ['down2', 6],
      ['down3', 8],
      ['up0', 4],
      ['up1', 4],
      ['up2', 2],
    ]);
    expect([...parts.values()].flat().every(({ weights }) => weights.every(Number.isFinite))).toBe(true);
  });
});
