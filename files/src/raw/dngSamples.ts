import { inflateSync } from 'node:zlib';
import { FileError } from '../fileError';
import { numbersOf, type ByteSource } from '../ifd';
import type { DngLayout } from './dngLayout';
import { COMPRESSION, DNG } from './dngTags';
import { readLosslessJpeg } from './losslessJpeg';

/** A part of the stored picture and where its bytes lie. */
interface Segment {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly offset: number;
  readonly bytes: number;
}

/** Whether the samples are read here: a mosaic in lossless JPEG is left to the raw library, which is compiled. */
export const isReadHere = ({ raw, planes }: DngLayout): boolean =>
  planes > 1 || numbersOf(raw.get(DNG.compression))[0] !== COMPRESSION.jpeg;

/**
 * The sensor's numbers of the active area, interleaved.
 *
 * @throws FileError PICTURE_DAMAGED where they are not all there.
 */
export function readDngSamples(source: ByteSource, layout: DngLayout, isLittle: boolean): Uint16Array {
  const { raw, planes, bits, active } = layout;
  const [compression = 1] = numbersOf(raw.get(DNG.compression));
  const [predictor = 1] = numbersOf(raw.get(DNG.predictor));
  const out = new Uint16Array(active.width * active.height * planes);
  for (const segment of segmentsOf(layout)) {
    const packed = source.read(segment.offset, segment.bytes);
    if (packed.length < segment.bytes) throw damaged('samples lie behind the end of the file');
    const across = segment.width * planes;
    if (compression === COMPRESSION.jpeg) {
      // Whatever rows the JPEG believes in, its samples follow one another.
      const all = unpackedJpeg(packed, across * segment.height);
      for (let y = 0; y < segment.height; y++) {
        placeRow(all.subarray(y * across, (y + 1) * across), segment.x, segment.y + y);
      }
      continue;
    }
    const perRow = Math.ceil((across * bits) / 8);
    const needed = perRow * segment.height;
    const bytes = compression === COMPRESSION.none ? packed : inflated(packed, needed);
    if (bytes.length < needed) throw damaged('samples are missing');
    const row = new Uint16Array(across);
    for (let y = 0; y < segment.height; y++) {
      unpack(bytes, y * perRow, row, bits, isLittle);
      if (predictor === 2) for (let i = planes; i < row.length; i++) row[i] += row[i - planes];
      placeRow(row, segment.x, segment.y + y);
    }
  }
  return out;

  function placeRow(row: Uint16Array, x: number, y: number): void {
    const to = y - active.y;
    if (to < 0 || to >= active.height) return;
    const from = Math.max(0, active.x - x);
    const end = Math.min(row.length / planes, active.x + active.width - x);
    if (end <= from) return;
    out.set(row.subarray(from * planes, end * planes), (to * active.width + x + from - active.x) * planes);
  }
}

/** A tile may be larger than a small picture, and reaches a little beyond a large one. */
const mostOf = (side: number) => Math.max(4096, 2 * side);

/** What is stored, part by part. @throws FileError PICTURE_DAMAGED */
function segmentsOf({ raw, stored }: DngLayout): Segment[] {
  const whole = (tag: number, usual: number) => numbersOf(raw.get(tag))[0] ?? usual;
  const isTiled = raw.has(DNG.tileOffsets);
  const width = isTiled ? whole(DNG.tileWidth, 0) : stored.width;
  const height = isTiled ? whole(DNG.tileHeight, 0) : whole(DNG.rowsPerStrip, stored.height);
  if (whole(DNG.planarConfiguration, 1) !== 1) throw damaged('its channels lie apart, which a DNG’s must not');
  if (width < 1 || height < 1) throw damaged('its tiles have no size');
  if (isTiled && (width > mostOf(stored.width) || height > mostOf(stored.height))) {
    throw damaged(`its tiles have ${width} × ${height} samples, more than the sensor`);
  }
  const offsets = numbersOf(raw.get(isTiled ? DNG.tileOffsets : DNG.stripOffsets));
  const counts = numbersOf(raw.get(isTiled ? DNG.tileBytes : DNG.stripBytes));
  const across = Math.ceil(stored.width / width);
  const down = Math.ceil(stored.height / height);
  if (offsets.length < across * down || counts.length < across * down) throw damaged('samples are missing');
  return Array.from({ length: across * down }, (_, i) => {
    const y = Math.floor(i / across) * height;
    return {
      x: (i % across) * width,
      y,
      width,
      height: isTiled ? height : Math.min(height, stored.height - y),
      offset: offsets[i],
      bytes: counts[i],
    };
  });
}

function unpackedJpeg(packed: Buffer, expected: number): Uint16Array {
  try {
    return readLosslessJpeg(packed, expected);
  } catch (error) {
    throw damaged((error as Error).message);
  }
}

function inflated(packed: Buffer, needed: number): Buffer {
  try {
    return inflateSync(packed, { maxOutputLength: needed + 64 });
  } catch {
    throw damaged('samples cannot be unpacked');
  }
}

/**
 * One row of samples. Those of 8 and 16 bits are bytes and words in the file's order, others are packed from the
 * highest bit on. Source: the open DNG specification (1.4.0.0, chapter 2, "BitsPerSample"); TIFF 6.0, section 8.
 */
function unpack(bytes: Buffer, at: number, row: Uint16Array, bits: number, isLittle: boolean): void {
  if (bits === 8) {
    for (let i = 0; i < row.length; i++) row[i] = bytes[at + i];
    return;
  }
  if (bits === 16) {
    for (let i = 0, low = isLittle ? at : at + 1, high = isLittle ? at + 1 : at; i < row.length; i++) {
      row[i] = bytes[low + 2 * i] | (bytes[high + 2 * i] << 8);
    }
    return;
  }
  const mask = (1 << bits) - 1;
  let held = 0;
  let count = 0;
  for (let i = 0; i < row.length; i++) {
    while (count < bits) {
      held = ((held << 8) | bytes[at++]) & 0xffffff;
      count += 8;
    }
    count -= bits;
    row[i] = (held >> count) & mask;
  }
}

const damaged = (why: string) =>
  new FileError('PICTURE_DAMAGED', `The DNG is damaged or cut off and cannot be read to its end (${why}).`);
