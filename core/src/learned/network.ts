import { CoreError } from '../errors';

/** Planes of one size, one after the other. */
export interface Stack {
  readonly width: number;
  readonly height: number;
  readonly channels: number;
  readonly data: Float32Array;
}

/** A 3 × 3 convolution without bias; weights by output, input, row, column. The outputs are a multiple of four. */
export interface Convolution {
  readonly inputs: number;
  readonly outputs: number;
  readonly weights: Float32Array;
}

/** First and last convolution, and between them pairs that go around: x + second(leaky(first(x))). */
export type Network = readonly Convolution[];

/** Of the leaky rectifier below nought. */
const SLOPE = 0.1;

export type After = 'stored' | 'leaky' | 'added';

/**
 * How the convolutions follow each other, whatever does them.
 *
 * @throws CoreError STOPPED when shouldStop says so, asked after each.
 */
export function throughNetwork<T>(
  network: Network,
  first: T,
  convolve: (from: T, convolution: Convolution, after: After, to: T | null) => T,
  shouldStop?: () => boolean,
): T {
  const step: typeof convolve = (...asked) => {
    const given = convolve(...asked);
    if (shouldStop?.()) throw new CoreError('STOPPED', 'Stopped.');
    return given;
  };
  const x = step(first, network[0], 'leaky', null);
  for (let i = 1; i + 2 < network.length; i += 2) {
    step(step(x, network[i], 'leaky', null), network[i + 1], 'added', x);
  }
  return step(x, network[network.length - 1], 'stored', null);
}

/** The plain twin of the kernels' network; samples at the ends go on beyond them. @throws CoreError NETWORK, STOPPED */
export function runNetwork(stack: Stack, network: Network, shouldStop?: () => boolean): Stack {
  checkNetwork(stack, network);
  return throughNetwork(network, stack, convolve3x3, shouldStop);
}

/** @throws CoreError NETWORK where its parts do not fit each other or what it is given. */
export function checkNetwork({ channels }: Pick<Stack, 'channels'>, network: Network): void {
  const fits = network.every(
    ({ inputs, outputs, weights }, i) =>
      inputs === (i === 0 ? channels : network[i - 1].outputs) &&
      outputs % 4 === 0 &&
      weights.length === 9 * inputs * outputs,
  );
  if (!fits || network.length < 2 || network.length % 2 === 1) {
    throw new CoreError('NETWORK', 'The parts of the learned network do not fit each other.');
  }
}

function convolve3x3(from: Stack, { inputs, outputs, weights }: Convolution, after: After, to: Stack | null): Stack {
  const { width, height } = from;
  const count = width * height;
  const out = to ?? { width, height, channels: outputs, data: new Float32Array(outputs * count) };
  const { fround } = Math;
  for (let o = 0; o < outputs; o++) {
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        let sum = 0;
        for (let i = 0, at = o * inputs * 9; i < inputs; i++) {
          for (let dy = -1; dy <= 1; dy++) {
            const row = i * count + Math.min(height - 1, Math.max(0, y + dy)) * width;
            for (let dx = -1; dx <= 1; dx++, at++) {
              const value = from.data[row + Math.min(width - 1, Math.max(0, x + dx))];
              sum = fround(sum + fround(weights[at] * value));
            }
          }
        }
        const k = o * count + y * width + x;
        if (after === 'leaky') out.data[k] = Math.max(sum, fround(fround(SLOPE) * sum));
        else out.data[k] = after === 'added' ? out.data[k] + sum : sum;
      }
    }
  }
  return out;
}
