import { checkNetwork, throughNetwork, type After, type Convolution, type Network, type Stack } from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

/** As assembly/network.ts counts them. */
const MODES: Record<After, number> = { stored: 0, leaky: 1, added: 2 };

/** Planes with a rim, in the module's memory. */
interface Placed {
  readonly at: number;
  readonly channels: number;
}

/** Bit for bit as the plain one. */
export function runNetwork(
  kernel: KernelExports,
  memory: KernelMemory,
  stack: Stack,
  network: Network,
  shouldStop?: () => boolean,
): Stack {
  checkNetwork(stack, network);
  const { width, height } = stack;
  const pitch = 8 * Math.ceil(width / 8) + 8;
  const plane = pitch * (height + 2);
  memory.reset();
  const room = (channels: number) => memory.take((channels * plane + pitch) * 4);
  const widest = Math.max(...network.slice(0, -1).map(({ outputs }) => outputs));
  const spare = [room(widest), room(widest)];
  const first = { at: room(stack.channels), channels: stack.channels };
  const weights = memory.take(4 * Math.max(...network.map((part) => part.weights.length)));
  const last = network[network.length - 1];
  const out = { at: room(last.outputs), channels: last.outputs };
  spread(memory.floats(first.at, first.channels * plane), stack, pitch);
  kernel.repeatEnds(first.at, first.channels, width, height, pitch * 4);

  const convolve = (from: Placed, convolution: Convolution, after: After, to: Placed | null): Placed => {
    const { inputs, outputs } = convolution;
    const free = spare.find((at) => at !== from.at && at !== to?.at)!;
    const target = to ?? (convolution === last ? out : { at: free, channels: outputs });
    memory.floats(weights, convolution.weights.length).set(byFours(convolution));
    kernel.convolve3x3(
      ...([from.at, inputs, target.at, outputs, width, height, pitch * 4, weights, MODES[after]] as const),
    );
    kernel.repeatEnds(target.at, outputs, width, height, pitch * 4);
    return target;
  };
  const answer = throughNetwork(network, first, convolve, shouldStop);
  return gathered(memory.floats(answer.at, answer.channels * plane), { ...answer, width, height }, pitch);
}

const sorted = new WeakMap<Convolution, Float32Array>();

/** For each four outputs the four weights of each tap together. */
function byFours(convolution: Convolution): Float32Array {
  const known = sorted.get(convolution);
  if (known) return known;
  const { inputs, outputs, weights } = convolution;
  const taps = 9 * inputs;
  const out = new Float32Array(weights.length);
  for (let o = 0; o < outputs; o++) {
    const first = Math.floor(o / 4) * taps * 4 + (o % 4);
    for (let tap = 0; tap < taps; tap++) out[first + 4 * tap] = weights[o * taps + tap];
  }
  sorted.set(convolution, out);
  return out;
}

function spread(to: Float32Array, { width, height, channels, data }: Stack, pitch: number): void {
  to.fill(0);
  for (let c = 0, from = 0; c < channels; c++) {
    for (let y = 0; y < height; y++, from += width) {
      to.set(data.subarray(from, from + width), (c * (height + 2) + y + 1) * pitch + 1);
    }
  }
}

function gathered(from: Float32Array, stack: Omit<Stack, 'data'>, pitch: number): Stack {
  const { width, height, channels } = stack;
  const data = new Float32Array(channels * width * height);
  for (let c = 0, to = 0; c < channels; c++) {
    for (let y = 0; y < height; y++, to += width) {
      const row = (c * (height + 2) + y + 1) * pitch + 1;
      data.set(from.subarray(row, row + width), to);
    }
  }
  return { width, height, channels, data };
}
