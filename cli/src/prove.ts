import { COPY_COLOURS, FINAL_EFFORT, type ColourSpace } from '@vitrocept/core';
import {
  besideSamples,
  convertedPage,
  copySpace,
  nodeKernels,
  pageOf,
  readPicture,
  renderPicture,
  type DecodedPicture,
  type RenderedPicture,
} from '@vitrocept/files';
import type { ProveOptions } from './options';
import { fromCaller } from './paths';
import { readPrescription } from './render';

/**
 * What was rendered, in the colour space that the copy was converted to when it was saved; null where the copy says of
 * its colours what neither the original nor any way of saving says.
 */
function inColoursOf(copy: DecodedPicture, original: DecodedPicture, { codes, width, height }: RenderedPicture) {
  const { channels, space } = original;
  if (meansTheSame(copy.space, space)) return codes;
  const colour = COPY_COLOURS.find((one) => one !== 'as-original' && copy.icc?.equals(copySpace(one, channels).icc));
  if (!colour || colour === 'as-original') return null;
  const facts = { ...original, width, height };
  return convertedPage(pageOf('', codes, facts), facts, space, copySpace(colour, channels).space).rows(0, height);
}

/** Of numbers that stand for light: profiles round them to 1/65536. */
const SAME_WITHIN = 1e-4;
const LOOKED_AT = [0, 1, 2, 3, 4, 5, 6, 7, 8].map((k) => Math.round((k / 8) * 65535));

/** Whether codes mean the same light, however it is written down. */
function meansTheSame(a: ColourSpace, b: ColourSpace): boolean {
  const isNear = (x: number, y: number) => Math.abs(x - y) <= SAME_WITHIN;
  return (
    a.channels === b.channels &&
    a.decode.every((table, c) => LOOKED_AT.every((code) => isNear(table[code], b.decode[c][code]))) &&
    (a.toLinearSrgb ?? []).every((value, i) => isNear(value, b.toLinearSrgb![i]))
  );
}

/** What of a copy could not have come from here, whatever its samples are; null: nothing. */
async function foreignIn(path: string, { isSensorData }: DecodedPicture): Promise<string | null> {
  const { isTransparent, pages } = await besideSamples(path, isSensorData);
  if (isTransparent) return 'parts of it may be seen through, which no copy is';
  if (pages > 1) return `it holds ${pages} pages, of which one would be looked at; prove a stage saved by itself`;
  return null;
}

/** A code of 8 bits stands for so many of 16. */
const CODES_PER_BYTE = 257;

/**
 * Renders the original by the prescription once more and holds every sample of the copy against it; returns whether all
 * are the same.
 */
export async function proveCommand(options: ProveOptions, print: (text: string) => unknown): Promise<boolean> {
  const prescription = await readPrescription(fromCaller(options.prescription));
  const copy = await readPicture(fromCaller(options.copy));
  if (copy.format === 'jpeg') {
    print(`${options.copy} is a JPEG: it was compressed once more, so nothing can be proved of its samples.\n`);
    return false;
  }
  const foreign = await foreignIn(fromCaller(options.copy), copy);
  if (foreign) {
    print(`No: ${options.copy} is not as it was saved: ${foreign}.\n`);
    return false;
  }
  const original = await readPicture(fromCaller(options.original));
  const effort = { ...FINAL_EFFORT, kernels: await nodeKernels() };
  const rendered = renderPicture(original, prescription, {}, effort);
  const { width, height } = rendered;
  const codes = inColoursOf(copy, original, rendered);
  const { channels } = original;
  if (copy.width !== width || copy.height !== height || copy.channels !== channels) {
    const own = `${copy.width} × ${copy.height} px with ${copy.channels} channels`;
    print(`No: ${options.copy} has ${own}, the prescription gives ${width} × ${height} px with ${channels}.\n`);
    return false;
  }
  if (!codes) {
    print(`No: the colours of ${options.copy} are described as nothing describes them that is saved here.\n`);
    return false;
  }
  const perCode = copy.bits === 8 ? CODES_PER_BYTE : 1;
  let [left, top, right, bottom, differing, most] = [width, height, -1, -1, 0, 0];
  for (let i = 0; i < width * height; i++) {
    let off = 0;
    for (let c = 0; c < channels; c++) {
      const expected = Math.round(codes[i * channels + c] / perCode);
      off = Math.max(off, Math.abs(copy.samples[i * channels + c] - expected));
    }
    if (off === 0) continue;
    differing++;
    most = Math.max(most, off);
    const [x, y] = [i % width, Math.floor(i / width)];
    [left, right] = [Math.min(left, x), Math.max(right, x)];
    [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
  }
  if (differing === 0) {
    print(`Yes: every sample of ${options.copy} is what ${options.original} gives by this prescription.\n`);
    print('Only what is seen was held against it: what is told of the shot beside the samples was not.\n');
    return true;
  }
  const share = ((100 * differing) / (width * height)).toFixed(3);
  print(
    `No: ${differing} px (${share} %) differ, by at most ${most} codes, from ${left}, ${top} to ${right}, ${bottom}.\n`,
  );
  return false;
}
