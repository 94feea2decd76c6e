import { mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp, { type Raw } from 'sharp';

export const temporaryFolder = () => mkdtemp(join(tmpdir(), 'vitrocept-files-'));

/** Distinct values everywhere, so that a turned, shifted or swapped picture cannot pass. */
export function pattern16(width: number, height: number, channels: 1 | 3): Uint16Array {
  return Uint16Array.from({ length: width * height * channels }, (_, i) => (i * 40503 + 977) & 0xffff);
}

export function sharp16(codes: Uint16Array, width: number, height: number, channels: 1 | 3) {
  const image = sharp(codes, { raw: { width, height, channels, depth: 'ushort' } as Raw });
  return image.toColourspace(channels === 1 ? 'grey16' : 'rgb16');
}

/** A small matrix profile after ICC.1:2022: header, tag table, three XYZ columns and one gamma curve for all. */
export function matrixProfile(
  columns: number[][],
  gamma: number,
  space = 'RGB ',
  tags?: string[],
  /** A parametric curve of kind 3 in place of the gamma: g, a, b, c, d. */
  parametric?: readonly number[],
): Buffer {
  const names = tags ?? ['rXYZ', 'gXYZ', 'bXYZ', 'rTRC', 'gTRC', 'bTRC'];
  const bodies = names.map((name) => {
    const body = Buffer.alloc(32);
    if (name.endsWith('XYZ')) {
      body.write('XYZ ', 0, 'latin1');
      columns['rgb'.indexOf(name[0])].forEach((value, i) => body.writeInt32BE(Math.round(value * 65536), 8 + 4 * i));
    } else if (parametric) {
      body.write('para', 0, 'latin1');
      body.writeUInt16BE(3, 8);
      parametric.forEach((value, i) => body.writeInt32BE(Math.round(value * 65536), 12 + 4 * i));
    } else {
      body.write('curv', 0, 'latin1');
      body.writeUInt32BE(1, 8);
      body.writeUInt16BE(Math.round(gamma * 256), 12);
    }
    return body;
  });
  const table = Buffer.alloc(4 + 12 * names.length);
  table.writeUInt32BE(names.length, 0);
  names.forEach((name, i) => {
    table.write(name, 4 + 12 * i, 'latin1');
    table.writeUInt32BE(128 + table.length + 32 * i, 8 + 12 * i);
    table.writeUInt32BE(name.endsWith('XYZ') ? 20 : parametric ? 32 : 14, 12 + 12 * i);
  });
  const header = Buffer.alloc(128);
  header.writeUInt32BE(128 + table.length + 32 * names.length, 0);
  header.writeUInt32BE(0x04400000, 8);
  header.write('mntr', 12, 'latin1');
  header.write(space, 16, 'latin1');
  header.write('XYZ ', 20, 'latin1');
  header.write('acsp', 36, 'latin1');
  // The light of the connection space, D50: ICC.1:2022, 7.2.16.
  [0.9642, 1, 0.8249].forEach((value, i) => header.writeInt32BE(Math.round(value * 65536), 68 + 4 * i));
  return Buffer.concat([header, table, ...bodies]);
}

/** Wide primaries, already adapted to D50; rows sum to the D50 white (0.9642, 1, 0.8249). */
export const WIDE = matrixProfile(
  [
    [0.6097, 0.3111, 0.0195],
    [0.2053, 0.6257, 0.0609],
    [0.1492, 0.0632, 0.7445],
  ],
  2.2,
);
