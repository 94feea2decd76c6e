import { existsSync } from 'node:fs';
import { readFile, realpath, stat } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import {
  acceptReading,
  automaticCleaning,
  automaticRecovery,
  checkPrescription,
  copySizeFault,
  emptyPrescription,
  FINAL_EFFORT,
  isSensorFormat,
  normalisedPsf,
  reachOf,
  saveFormatFault,
  sizeAfter,
  SAVE_FORMAT_DESCRIPTIONS,
  usualWishes,
  type Prescription,
  type Psf,
} from '@vitrocept/core';
import {
  cleaningHolds,
  howMade,
  nodeKernels,
  pageOf,
  readGreyPlane,
  readPicture,
  renderPicture,
  safestAmount,
  writeCopy,
} from '@vitrocept/files';
import { measureFrame, type MeasuredFrame } from './measureFrame';
import type { RenderOptions } from './options';
import { checkMaskSize, fromCaller } from './paths';
import { hashOf } from './roundLedger';
import { UsageError } from './usage';

/** Writes one result per file; returns whether all succeeded. */
export async function renderCommand(options: RenderOptions, complain: (text: string) => void): Promise<boolean> {
  const places = await resultPlaces(options);
  const mask = options.mask ? await readGreyPlane(fromCaller(options.mask), 'mask') : null;
  const psf = options.psf ? await readPsf(fromCaller(options.psf)) : undefined;
  const prescription = options.prescription ? await readPrescription(fromCaller(options.prescription)) : null;
  const effort = { ...FINAL_EFFORT, kernels: await nodeKernels() };
  let allDone = true;
  for (const [file, place] of places) {
    try {
      const picture = await readPicture(fromCaller(file));
      const unfit = saveFormatFault(options.format, picture.format);
      if (unfit) throw new Error(unfit);
      if (mask) checkMaskSize(mask, picture);
      const measured = prescription ? null : await measureFrame(picture, { mask, wholeFrame: options.wholeFrame, psf });
      const wanted = measured ? prescribe(measured, options, psf) : prescription!;
      // Nothing by itself that takes edges along.
      const isCleanedOnly = measured !== null && wanted.cleaning !== null && wanted.recovery === null;
      const isHarm = isCleanedOnly && !cleaningHolds(picture, wanted, effort.kernels);
      const plan = isHarm ? { ...wanted, cleaning: null } : wanted;
      const given = { mask: (measured ? measured.mask : mask) ?? undefined, psf };
      const amount = options.amount === 'safest' ? safestAmount(picture, plan, given, effort) : options.amount;
      const tooLarge = copySizeFault(sizeAfter(plan, picture), picture.channels);
      if (tooLarge) throw new Error(tooLarge);
      const { codes, ...size } = renderPicture(picture, withAmount(plan, amount), given, effort);
      const facts = { ...picture, ...size };
      const { format } = options;
      const wishes = usualWishes(format, isSensorFormat(picture.format));
      const how = howMade(
        {
          originalName: basename(file),
          originalSha256: hashOf(await readFile(fromCaller(file))),
          stage: 'finished',
          // A mask or a point spread function that lies beside it is no part of it.
          prescription: mask || psf || (measured && measured.mask) ? null : withAmount(plan, amount),
        },
        new Date(),
      );
      const wish = { facts, pages: [pageOf('', codes, facts)], format, wishes, how };
      await writeCopy(place, wish, options.replace ? 'allowed' : 'never');
    } catch (error) {
      allDone = false;
      complain(`${file}: ${(error as Error).message}\n`);
    }
  }
  return allDone;
}

/** Where each result goes; refuses before anything is done when two share a name or one would replace an input. */
async function resultPlaces(options: RenderOptions): Promise<[string, string][]> {
  const out = fromCaller(options.out);
  const inputs = new Set<string>();
  for (const file of options.files) {
    const path = fromCaller(file);
    inputs.add(existsSync(path) ? await realpath(path) : path);
  }
  if (existsSync(out) && !(await stat(out)).isDirectory())
    throw new UsageError(`--out must be a folder; ${options.out} is a file.`);
  const realOut = existsSync(out) ? await realpath(out) : out;
  const taken = new Map<string, string>();
  return options.files.map((file) => {
    const place = join(realOut, basename(file, extname(file)) + SAVE_FORMAT_DESCRIPTIONS[options.format].ending);
    const other = taken.get(place);
    if (other !== undefined) throw new UsageError(`${other} and ${file} would both become ${basename(place)}.`);
    if (!options.replace && existsSync(place) && !inputs.has(place)) {
      throw new UsageError(`${place} is there already and stays as it is. Choose another folder, or add --replace.`);
    }
    if (inputs.has(place)) throw new UsageError(`The result of ${file} would replace an original: ${place}.`);
    taken.set(place, file);
    return [file, place];
  });
}

async function readPsf(path: string): Promise<Psf> {
  const plane = await readGreyPlane(path, 'point spread function');
  return normalisedPsf(plane.width, plane.height, plane.data);
}

export async function readPrescription(path: string): Promise<Prescription> {
  let value: unknown;
  try {
    value = JSON.parse(await readFile(path, 'utf8'));
  } catch (error) {
    throw new UsageError(`The prescription cannot be read: ${(error as Error).message}`);
  }
  return checkPrescription(value);
}

function withAmount(prescription: Prescription, amount: number | null): Prescription {
  if (amount === null || !prescription.recovery) return prescription;
  return { ...prescription, recovery: { ...prescription.recovery, amount: { value: amount, auto: false } } };
}

const STRONGEST = 100;
/** Noise at mid-tone, %, from which it is cleaned where nothing is recovered. */
const SHOWING_NOISE_PERCENT = 0.5;

/** What the reading suggests, changed by what the person said. */
function prescribe({ reading, over }: MeasuredFrame, options: RenderOptions, psf?: Psf): Prescription {
  const accepted = acceptReading(reading, { kind: over === 'subject' ? 'mask' : over, key: '' });
  const method = options.method ?? accepted.method ?? (psf ? 'missed-focus' : null);
  const empty = { ...emptyPrescription(), reading: accepted };
  if (!method) {
    // Nothing is recovered by itself: noise that shows is cleaned, a quiet frame is left as it is.
    if (reading.noisePercent < SHOWING_NOISE_PERCENT) return empty;
    return { ...empty, cleaning: { ...automaticCleaning(accepted), detailKept: { value: 0, auto: false } } };
  }
  const automatic = automaticRecovery(method, accepted, STRONGEST);
  const said = (value: number | null, from: { value: number; auto: boolean }) =>
    value === null ? from : { value, auto: false };
  return {
    ...empty,
    recovery: {
      ...automatic,
      blurSizePx: said(options.blurSizePx ?? (psf ? Math.max(1, 2 * reachOf(psf)) : null), automatic.blurSizePx),
      directionDeg: said(options.directionDeg, automatic.directionDeg),
      noiseGuard: said(options.noiseGuard, automatic.noiseGuard),
      learnedTexture: options.texture === 'learned' && automatic.learnedTexture,
      ...(options.badlySoft ? { badlySoft: true } : {}),
      trialId: null,
    },
  };
}
