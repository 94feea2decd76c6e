import { closeSync, ftruncateSync, openSync, readSync, writeSync } from 'node:fs';
import type { Region, Size } from '@vitrocept/core';
import { longField, shortField, writeDirectories, type Directory } from './ifd';

/**
 * A picture on disk while it is being made: an uncompressed TIFF whose rows lie one after the other from a known place,
 * so that tiles of it can be written and rows of it read in any order, by several threads, without holding it whole.
 */
export interface PlainTiff extends Size {
  readonly path: string;
  readonly channels: 1 | 3;
  /** 32: floating point, for linear light that is not finished. */
  readonly bits: 8 | 16 | 32;
}

const ROWS_PER_STRIP = 16;

function headOf({ width, height, channels, bits }: PlainTiff): Buffer {
  const perRow = width * channels * (bits / 8);
  const count = Math.ceil(height / ROWS_PER_STRIP);
  const write = (from: number) => {
    const offsets = Array.from({ length: count }, (_, i) => from + i * ROWS_PER_STRIP * perRow);
    const counts = offsets.map((_, i) => Math.min(ROWS_PER_STRIP, height - i * ROWS_PER_STRIP) * perRow);
    const fields = [
      longField(256, width),
      longField(257, height),
      shortField(258, ...Array<number>(channels).fill(bits)),
      shortField(259, 1),
      shortField(262, channels === 1 ? 1 : 2),
      longField(273, ...offsets),
      shortField(277, channels),
      longField(278, ROWS_PER_STRIP),
      longField(279, ...counts),
      shortField(284, 1),
      ...(bits === 32 ? [shortField(339, ...Array<number>(channels).fill(3))] : []),
    ];
    const main: Directory = new Map(fields.map((field) => [field.tag, field]));
    return writeDirectories({ main, exif: new Map(), gps: new Map() });
  };
  return write(write(0).length);
}

/** Opens it for writing; `isNew` makes it, black. */
export function openPlainTiff(tiff: PlainTiff, isNew: boolean): PlainTiffHandle {
  const { path, width, height, channels, bits } = tiff;
  const head = headOf(tiff);
  const file = openSync(path, isNew ? 'w+' : 'r+');
  if (isNew) {
    writeSync(file, head, 0, head.length, 0);
    ftruncateSync(file, head.length + width * height * channels * (bits / 8));
  }
  const perPixel = channels * (bits / 8);
  const placeOf = (x: number, y: number) => head.length + (y * width + x) * perPixel;
  const writeAll = (bytes: Buffer, at: number) => {
    for (let done = 0; done < bytes.length;) done += writeSync(file, bytes, done, bytes.length - done, at + done);
  };
  return {
    write({ x, y, width: across, height: down }, samples) {
      const bytes = Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength);
      const perRow = across * perPixel;
      if (across === width) writeAll(bytes, placeOf(0, y));
      else
        for (let row = 0; row < down; row++)
          writeAll(bytes.subarray(row * perRow, (row + 1) * perRow), placeOf(x, y + row));
    },
    floats({ x, y, width: across, height: down }) {
      const perRow = across * perPixel;
      const bytes = Buffer.alloc(perRow * down);
      for (let row = 0; row < down; row++) {
        if (readSync(file, bytes, row * perRow, perRow, placeOf(x, y + row)) < perRow) throw cutOff();
      }
      return new Float32Array(bytes.buffer, bytes.byteOffset, bytes.length / 4);
    },
    rows(y, count) {
      const bytes = Buffer.alloc(width * perPixel * count);
      if (readSync(file, bytes, 0, bytes.length, placeOf(0, y)) < bytes.length) throw cutOff();
      return new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2);
    },
    close: () => closeSync(file),
  };
}

/** Makes it, black. */
export const makePlainTiff = (tiff: PlainTiff): void => openPlainTiff(tiff, true).close();

const cutOff = () => new Error('A picture in the making was cut off.');

export interface PlainTiffHandle {
  /** Samples of a region that lies inside the picture, interleaved. */
  write(region: Region, samples: Uint8Array | Uint16Array | Float32Array): void;
  /** Samples of a region that lies inside a picture of 32 bits. */
  floats(region: Region): Float32Array;
  /** Whole rows of a picture of 16 bits. */
  rows(y: number, count: number): Uint16Array;
  close(): void;
}
