import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import {
  createPlane,
  findSubject,
  gaussianBlur,
  installSubjectNetwork,
  likelySubject,
  PLAIN_KERNELS,
  seededRandom,
  srgbDecode,
  srgbEncode,
  type Convolution,
  type Plane,
  type SubjectNetwork,
} from '../../src';
import '../fastKernels';
import { deadLeaves } from '../synthetic';

const WEIGHTS = fileURLToPath(new URL('../../../kernels/wasm/subject.safetensors', import.meta.url));

const shipped = installSubjectNetwork(null);
beforeEach(() => {
  installSubjectNetwork(shipped);
});
afterAll(() => {
  installSubjectNetwork(shipped);
});

/** A convolution of which only some taps of the middle are not 0. */
function middles(inputs: number, outputs: number, taps: readonly (readonly [to: number, from: number, by: number])[]) {
  const weights = new Float32Array(9 * inputs * outputs);
  for (const [to, from, by] of taps) weights[9 * (to * inputs + from) + 4] = by;
  return { inputs, outputs, weights } satisfies Convolution;
}

const FOUR = [0, 1, 2, 3] as const;

/** Hands on the four samples of green as they stand, all the way around the parts below. */
const handsOn: SubjectNetwork = {
  down: [
    // Twice what a rectifier lets through and its like below nought are the value again.
    [
      middles(15, 8, [...FOUR.map((k) => [k, 4 + k, 1] as const), ...FOUR.map((k) => [4 + k, 4 + k, -1] as const)]),
      middles(8, 4, [...FOUR.map((k) => [k, k, 1 / 1.1] as const), ...FOUR.map((k) => [k, 4 + k, -1 / 1.1] as const)]),
    ],
    [middles(16, 4, []), middles(4, 4, [])],
    [middles(16, 4, []), middles(4, 4, [])],
    [middles(16, 4, []), middles(4, 16, [])],
  ],
  up: [
    [middles(8, 4, []), middles(4, 16, [])],
    [middles(8, 4, []), middles(4, 16, [])],
    [
      middles(8, 8, [...FOUR.map((k) => [k, 4 + k, 1] as const), ...FOUR.map((k) => [4 + k, 4 + k, -1] as const)]),
      middles(8, 8, [...FOUR.map((k) => [k, k, 1 / 1.1] as const), ...FOUR.map((k) => [k, 4 + k, -1 / 1.1] as const)]),
    ],
  ],
  run: (stack, network) => PLAIN_KERNELS.runNetwork(stack, network),
};

function noisy(width: number, height: number, seed: number): Plane[] {
  const random = seededRandom(seed);
  return [1, 2, 3].map(() => {
    const rough = createPlane(width, height);
    for (let i = 0; i < rough.data.length; i++) rough.data[i] = random.uniform();
    const smooth = gaussianBlur(rough, 3);
    for (let i = 0; i < smooth.data.length; i++) smooth.data[i] = Math.min(1, Math.max(0, 3 * smooth.data[i] - 1));
    return smooth;
  });
}

describe('where a subject is likely', () => {
  it('shows the network codes less their mean, over their spread, each at its place', () => {
    installSubjectNetwork(handsOn);
    const picture = noisy(192, 128, 4);
    const codes = picture.map(({ data }) => data.map((light) => srgbEncode(light)));
    const all = codes.flatMap((data) => [...data]);
    const mean = all.reduce((sum, code) => sum + code, 0) / all.length;
    const spread = Math.sqrt(all.reduce((sum, code) => sum + (code - mean) ** 2, 0) / (all.length - 1)) + 0.02;
    const odds = likelySubject(picture)!.subject;
    const apart = odds.data.map((value, i) => Math.abs(value - (codes[1][i] - mean) / spread));
    expect(Math.max(...apart)).toBeLessThan(1e-4);
  });

  it('is drawn over pictures of any sides, grey ones too', () => {
    installSubjectNetwork(handsOn);
    const rising = createPlane(331, 217);
    for (let i = 0; i < rising.data.length; i++) rising.data[i] = srgbDecode((i % 331) / 330);
    const odds = likelySubject([rising])!.subject;
    expect([odds.width, odds.height]).toEqual([331, 217]);
    const at = (x: number) => odds.data[100 * 331 + x];
    expect(at(165)).toBeCloseTo(0, 1);
    expect(at(300)).toBeGreaterThan(at(200) + 0.5);
  });

  it('is not told by hosts that brought no weights', () => {
    installSubjectNetwork(null);
    expect(likelySubject(noisy(64, 48, 1))).toBeNull();
  });

  it('is what the weights that ship say, worked out by numpy', () => {
    const picture = noisy(192, 128, 7);
    const codes = picture.map(({ data }) => [...data.map((light) => srgbEncode(light))]);
    const script = `
import json, sys, numpy as np
file = open(sys.argv[1], "rb").read()
start = 8 + int.from_bytes(file[:8], "little")
header = json.loads(file[8:start])
def weights(name):
    at = header[name]
    low, high = at["data_offsets"]
    return np.frombuffer(file[start + low : start + high], "<f2").astype(float).reshape(at["shape"])
def convolved(x, name):
    w, wide = weights(name), np.pad(x, ((0, 0), (1, 1), (1, 1)), mode="edge")
    h, v = x.shape[1:]
    taps = [(w[:, :, a, b], wide[:, a : a + h, b : b + v]) for a in range(3) for b in range(3)]
    return sum(np.einsum("oi,iyx->oyx", tap, near) for tap, near in taps)
leaky = lambda x: np.where(x > 0, x, 0.1 * x)
def part(x, name):
    count = sum(key.startswith(name + ".") for key in header)
    x = leaky(convolved(x, f"{name}.0"))
    for k in range(1, count - 1, 2):
        x = x + convolved(leaky(convolved(x, f"{name}.{k}")), f"{name}.{k + 1}")
    return convolved(x, f"{name}.{count - 1}")
def fold(x):
    c, h, w = x.shape
    return x.reshape(c, h // 2, 2, w // 2, 2).transpose(0, 2, 4, 1, 3).reshape(4 * c, h // 2, w // 2)
def unfold(x):
    c, h, w = x.shape
    return x.reshape(c // 4, 2, 2, h, w).transpose(0, 3, 1, 4, 2).reshape(c // 4, 2 * h, 2 * w)
rgb = np.array(json.load(sys.stdin)).reshape(3, 128, 192)
y, x = np.meshgrid(np.linspace(-1, 1, 64), np.linspace(-1, 1, 96), indexing="ij")
given = np.concatenate([fold((rgb - rgb.mean()) / (rgb.std(ddof=1) + 0.02)), [y, x, np.ones_like(x)]])
a = part(given, "down0")
b = part(fold(leaky(a)), "down1")
c = part(fold(leaky(b)), "down2")
d = part(fold(leaky(c)), "down3")
c = part(np.concatenate([unfold(d), c]), "up0")
b = part(np.concatenate([unfold(c), b]), "up1")
print(json.dumps(unfold(part(np.concatenate([unfold(b), a]), "up2")).reshape(2, -1).tolist()))`;
    const said = execFileSync('/usr/bin/python3', ['-c', script, WEIGHTS], {
      input: JSON.stringify(codes),
      encoding: 'utf8',
      maxBuffer: 2 ** 26,
    });
    const [subject, head] = JSON.parse(said) as number[][];
    const odds = likelySubject(picture)!;
    for (const [own, wanted] of [
      [odds.subject, subject],
      [odds.head, head],
    ] as const) {
      const most = Math.max(...wanted.map(Math.abs));
      expect(most).toBeGreaterThan(0.5);
      expect(Math.max(...own.data.map((value, i) => Math.abs(value - wanted[i])))).toBeLessThan(1e-3 * most);
    }
  });

  it('finds what is out of focus behind ground that is in focus', () => {
    const [width, height] = [360, 240];
    const [coat, behind, moss] = [3, 60, 90].map((seed, k) => deadLeaves(width, height, seed, [4, 12, 1.5][k]));
    const inBody = createPlane(width, height);
    for (let i = 0; i < inBody.data.length; i++) {
      const [x, y] = [(i % width) - 180, Math.floor(i / width) - 115];
      inBody.data[i] = Math.hypot(x / 75, y / 50) <= 1 || Math.hypot((x - 70) / 30, (y + 35) / 28) <= 1 ? 1 : 0;
    }
    const body = gaussianBlur(inBody, 2.5).data;
    const soft = gaussianBlur(coat, 2.5).data;
    const far = gaussianBlur(behind, 9).data;
    const channels = [0, 1, 2].map((c) => {
      const plane = createPlane(width, height);
      for (let i = 0; i < plane.data.length; i++) {
        const own = [0.75, 0.45, 0.25][c] * soft[i];
        const air = [0.45, 0.6, 0.5][c] * (0.3 + far[i]);
        const green = [0.25, 0.4, 0.12][c] * moss.data[i];
        const isMoss = Math.floor(i / width) > 190 + 8 * Math.sin((i % width) / 23);
        plane.data[i] = isMoss ? green : body[i] * own + (1 - body[i]) * air;
      }
      return plane;
    });
    const overlap = () => {
      let [both, either] = [0, 0];
      findSubject(channels).labels.forEach((label, i) => {
        const own = inBody.data[i] > 0 && Math.floor(i / width) <= 198 ? 1 : 0;
        both += label & own;
        either += label | own;
      });
      return both / either;
    };
    const learned = overlap();
    installSubjectNetwork(null);
    const byFocus = overlap();
    expect(byFocus).toBeLessThan(0.5);
    expect(learned).toBeGreaterThan(0.7);
  });
});
