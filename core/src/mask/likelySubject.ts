import { foldedStack, unfolded } from '../learned/fold';
import type { Network, Stack } from '../learned/network';
import { drawnOver } from '../picture/drawnOver';
import type { Channels } from '../picture/picture';
import type { Plane } from '../picture/plane';
import { wholeOf } from '../picture/region';
import { scaledDown } from '../picture/scaledDown';
import { srgbEncode } from '../picture/toneCurve';

/** What a host brought to tell subjects by: the parts of the network, and what runs them. */
export interface SubjectNetwork {
  /** On half, a quarter, an eighth and a sixteenth of the samples. */
  readonly down: readonly Network[];
  /** Back on an eighth, a quarter and half of them. */
  readonly up: readonly Network[];
  run(stack: Stack, network: Network): Stack;
}

let installed: SubjectNetwork | null = null;

/** Returns what was installed before. */
export function installSubjectNetwork(network: SubjectNetwork | null): SubjectNetwork | null {
  const before = installed;
  installed = network;
  return before;
}

/** Long side of the picture that the network sees, px, and what its sides are multiples of. */
const SIDE = 192;
const STEP = 16;
/** Flat pictures are not stretched to noise. */
const LEAST_SPREAD = 0.02;
const SLOPE = 0.1;

/** ln of the odds, sample by sample. */
export interface Likely {
  readonly subject: Plane;
  /** Of an animal, the head or face. */
  readonly head: Plane;
}

/**
 * Where a subject is likely, and its head, by a small network that was trained on composites
 * (training/subject/README.md): by shapes and surroundings, so that a subject out of focus is found too. Null where the
 * host brought no weights.
 *
 * @param picture - Linear sRGB, the whole frame, about 400 px a side.
 * Source: Ronneberger, Fischer, Brox, "U-Net", MICCAI 2015, for the way down and up again.
 */
export function likelySubject(picture: Channels): Likely | null {
  if (!installed) return null;
  const { down, up, run } = installed;
  const { width, height } = picture[0];
  const a = run(givenTo(picture), down[0]);
  const b = run(folded(leaky(a)), down[1]);
  const c = run(folded(leaky(b)), down[2]);
  const d = run(folded(leaky(c)), down[3]);
  const onEighth = run(beside(spread(d), c), up[0]);
  const onQuarter = run(beside(spread(onEighth), b), up[1]);
  const [subject, head] = unfolded(run(beside(spread(onQuarter), a), up[2])).map((odds) =>
    drawnOver(odds, { width, height, x: 0, y: 0, stepX: odds.width / width, stepY: odds.height / height }),
  );
  return { subject, head };
}

/** Codes of the picture at the network's size, less their mean and over their spread; where a sample lies; and ones. */
function givenTo(picture: Channels): Stack {
  const codes = atItsSize(picture.length === 3 ? picture : [picture[0], picture[0], picture[0]]).map((plane) => ({
    ...plane,
    data: plane.data.map((light) => srgbEncode(Math.min(1, Math.max(0, light)))),
  }));
  const all = codes.length * codes[0].data.length;
  const sumOf = (part: (code: number) => number) =>
    codes.reduce((sum, { data }) => data.reduce((own, code) => own + part(code), sum), 0);
  const mean = sumOf((code) => code) / all;
  const spread = Math.sqrt(sumOf((code) => (code - mean) ** 2) / (all - 1)) + LEAST_SPREAD;
  const seen = foldedStack(
    codes.map((plane) => ({ ...plane, data: plane.data.map((code) => (code - mean) / spread) })),
  );
  const { width, height } = seen;
  const placed = { width, height, channels: 3, data: new Float32Array(3 * width * height).fill(1) };
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      placed.data[i] = (2 * y) / (height - 1) - 1;
      placed.data[width * height + i] = (2 * x) / (width - 1) - 1;
    }
  }
  return beside(seen, placed);
}

function atItsSize(picture: Channels): Plane[] {
  const { width, height } = wholeOf(picture[0]);
  const scale = Math.min(1, SIDE / Math.max(width, height));
  const side = (own: number) => STEP * Math.max(2, Math.round((own * scale) / STEP));
  const size = { width: side(width), height: side(height) };
  return picture.map((plane) => {
    const small = scaledDown(plane, scale);
    const steps = { stepX: small.width / size.width, stepY: small.height / size.height };
    return drawnOver(small, { ...size, x: 0, y: 0, ...steps });
  });
}

const planesOf = ({ width, height, channels, data }: Stack): Plane[] =>
  Array.from({ length: channels }, (_, c) => ({
    width,
    height,
    data: data.subarray(c * width * height, (c + 1) * width * height),
  }));

const folded = (stack: Stack): Stack => foldedStack(planesOf(stack));

/** Undoes `folded`. */
function spread(stack: Stack): Stack {
  const planes = unfolded(stack);
  const { width, height } = planes[0];
  const data = new Float32Array(planes.length * width * height);
  planes.forEach((plane, c) => data.set(plane.data, c * width * height));
  return { width, height, channels: planes.length, data };
}

function beside(first: Stack, second: Stack): Stack {
  const data = new Float32Array(first.data.length + second.data.length);
  data.set(first.data);
  data.set(second.data, first.data.length);
  return { ...first, channels: first.channels + second.channels, data };
}

const leaky = (stack: Stack): Stack => ({
  ...stack,
  data: stack.data.map((value) => Math.max(value, Math.fround(Math.fround(SLOPE) * value))),
});
