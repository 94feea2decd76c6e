import { CoreError } from '../errors';
import type { Convolution, Network } from './network';

interface Entry {
  readonly dtype: string;
  readonly shape: readonly number[];
  readonly data_offsets: readonly [number, number];
}

/**
 * The convolutions of a file in the open "safetensors" form: the length of a JSON header (8 bytes, little-endian), the
 * header, then the numbers. Tensors F32 of outputs × inputs × 3 × 3, in the order of their names.
 *
 * @throws CoreError NETWORK
 */
export function networkOf(bytes: ArrayBuffer): Network {
  try {
    const length = Number(new DataView(bytes).getBigUint64(0, true));
    const header = JSON.parse(String.fromCharCode(...new Uint8Array(bytes, 8, length))) as Record<string, Entry>;
    const names = Object.keys(header).filter((name) => name !== '__metadata__');
    return names.sort().map((name) => convolutionOf(header[name], bytes, 8 + length));
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
  if (dtype !== 'F32' || taps.join() !== '3,3' || to - from !== 36 * inputs * outputs) {
    throw new CoreError('NETWORK', 'The learned network has a part that is no 3 × 3 convolution.');
  }
  return { inputs, outputs, weights: new Float32Array(bytes.slice(start + from, start + to)) };
}
