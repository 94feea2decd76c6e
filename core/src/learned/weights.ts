import { CoreError } from '../errors';
import type { Convolution, Network } from './network';

interface Entry {
  readonly dtype: string;
  readonly shape: readonly number[];
  readonly data_offsets: readonly [number, number];
}

/**
 * The convolutions of a file in the open "safetensors" form: the length of a JSON header (8 bytes, little-endian), the
 * header, then the numbers. Tensors F32 or F16 (IEEE 754 binary16) of outputs × inputs × 3 × 3, in the order of their
 * names.
 *
 * @throws CoreError NETWORK
 */
export function networkOf(bytes: ArrayBuffer): Network {
  return namedConvolutions(bytes).map(([, convolution]) => convolution);
}

/**
 * Several networks of one such file, by what stands before the point in their tensors' names. @throws CoreError NETWORK
 */
export function networksOf(bytes: ArrayBuffer): ReadonlyMap<string, Network> {
  const networks = new Map<string, Convolution[]>();
  for (const [name, convolution] of namedConvolutions(bytes)) {
    const of = name.split('.')[0];
    networks.set(of, [...(networks.get(of) ?? []), convolution]);
  }
  return networks;
}

function namedConvolutions(bytes: ArrayBuffer): [name: string, Convolution][] {
  try {
    const length = Number(new DataView(bytes).getBigUint64(0, true));
    const header = JSON.parse(String.fromCharCode(...new Uint8Array(bytes, 8, length))) as Record<string, Entry>;
    const names = Object.keys(header).filter((name) => name !== '__metadata__');
    return names.sort().map((name) => [name, convolutionOf(header[name], bytes, 8 + length)]);
  } catch (error) {
    if (error instanceof CoreError) throw error;
    throw new CoreError('NETWORK', 'The weights of the learned network cannot be read.');
  }
}

function convolutionOf(
  { dtype, shape, data_offsets: [from, to] }: Entry,
  bytes: ArrayBuffer,
  start: number,
): Convolution {
  const [outputs, inputs, ...taps] = shape;
  const size = { F32: 4, F16: 2 }[dtype as 'F32' | 'F16'] as number | undefined;
  if (!size || taps.join() !== '3,3' || to - from !== 9 * size * inputs * outputs) {
    throw new CoreError('NETWORK', 'The learned network has a part that is no 3 × 3 convolution.');
  }
  const numbers = bytes.slice(start + from, start + to);
  const weights = size === 4 ? new Float32Array(numbers) : Float32Array.from(new Uint16Array(numbers), halfPrecision);
  return { inputs, outputs, weights };
}

/** The number that 16 bits stand for: a sign, five bits of exponent, ten of fraction (IEEE 754-2019, binary16). */
export function halfPrecision(bits: number): number {
  const sign = bits & 0x8000 ? -1 : 1;
  const exponent = (bits >> 10) & 31;
  const fraction = (bits & 1023) / 1024;
  if (exponent === 31) return fraction === 0 ? sign * Infinity : NaN;
  return sign * (exponent === 0 ? fraction * 2 ** -14 : (1 + fraction) * 2 ** (exponent - 15));
}
