import type { FileHandle } from 'node:fs/promises';
import { asLinearSrgb, balancedColour, Shrinking, sizeWithin, colourSpaceOf } from '@vitrocept/core';
import { jpegOf } from '../cropJpeg';
import { carriedDirectories, IPTC_TAG, iptcField, XMP_TAG } from '../exif';
import { FileError } from '../fileError';
import { rationalField, realsOf, type Directory, type Field } from '../ifd';
import { colourOf } from '../raw/dngLayout';
import { DNG } from '../raw/dngTags';
import { dngParts } from '../raw/writeDng';
import type { Beside } from './beside';
import { ROWS_AT_ONCE, type CopyFacts, type Page } from './page';

const PREVIEW_SIDE = 1024;
/** What the camera is, said as the original said it. */
const CAMERA_TAGS = [
  DNG.uniqueModel,
  DNG.colorMatrix1,
  DNG.colorMatrix2,
  DNG.calibration1,
  DNG.calibration2,
  DNG.illuminant1,
  DNG.illuminant2,
  DNG.forwardMatrix1,
  DNG.forwardMatrix2,
  DNG.baselineExposure,
];
const WHITE = 65535;

/**
 * A linear DNG with the original's camera. Its samples are balanced for the light of the shot, which the analogue
 * balance tells: so they stand in the file bit for bit as they were rendered.
 *
 * @throws FileError DNG_NOT_RAW where the original has no sensor data.
 */
export async function writeDngCopy(file: FileHandle, facts: CopyFacts, page: Page, beside: Beside): Promise<void> {
  const { width, height, directories } = facts;
  if (!directories?.main.has(DNG.colorMatrix1)) {
    throw new FileError('DNG_NOT_RAW', 'Only what came from a DNG can be written as one. Choose TIFF for this frame.');
  }
  const { main: told, exif, gps } = carriedDirectories(directories, width, height, beside.carrying);
  const { xmp, iptc } = beside;
  const main: Directory = new Map(told);
  main.set(XMP_TAG, { tag: XMP_TAG, type: 1, count: xmp.length, value: xmp });
  if (iptc) main.set(IPTC_TAG, iptcField(iptc));
  const parts = dngParts({
    width,
    height,
    samples: page.rows(0, height),
    pattern: null,
    black: 0,
    white: WHITE,
    colour: cameraFields(directories.main),
    preview: await previewOf(facts, page),
    directories: { main, exif, gps },
  });
  for (const part of parts) await file.write(part);
}

function cameraFields(main: Directory): Field[] {
  const { neutral } = balancedColour(colourOf(main));
  const analog = realsOf(main.get(DNG.analogBalance));
  const kept = CAMERA_TAGS.flatMap((tag) => main.get(tag) ?? []);
  return [
    ...kept,
    rationalField(DNG.analogBalance, ...neutral.map((value, c) => (analog[c] ?? 1) / value)),
    rationalField(DNG.asShotNeutral, 1, 1, 1),
  ];
}

async function previewOf(facts: CopyFacts, page: Page) {
  const space = facts.space ?? colourSpaceOf(facts.icc, facts.channels);
  const size = sizeWithin(facts, PREVIEW_SIDE);
  const small = new Shrinking(facts, space.decode, size);
  for (let y = 0; y < facts.height; y += ROWS_AT_ONCE) {
    small.add(page.rows(y, Math.min(ROWS_AT_ONCE, facts.height - y)), y);
  }
  return { ...size, jpeg: await jpegOf(asLinearSrgb(small.result, space)) };
}
