import { closeSync, openSync, readSync } from 'node:fs';
import { FileError } from '../fileError';

/** Chunks before the picture that say how its values are meant, by name. Source: W3C PNG (third edition), 5 and 11.3. */
const LOOKED_AT = new Set(['acTL', 'cICP', 'gAMA', 'iCCP', 'sRGB']);
const MOST_CHUNKS = 100;
const MOST_BYTES = 64;

/** What stands before the first samples; chunks that are longer than needed here are cut short. */
export function pngChunks(path: string): Map<string, Buffer> {
  const file = openSync(path, 'r');
  const found = new Map<string, Buffer>();
  try {
    const head = Buffer.alloc(8);
    for (let at = 8, i = 0; i < MOST_CHUNKS && readSync(file, head, 0, 8, at) === 8; i++) {
      const length = head.readUInt32BE(0);
      const name = head.toString('latin1', 4, 8);
      if (name === 'IDAT') break;
      if (LOOKED_AT.has(name)) {
        const body = Buffer.alloc(Math.min(length, MOST_BYTES));
        found.set(name, body.subarray(0, readSync(file, body, 0, body.length, at + 8)));
      }
      at += 12 + length;
    }
  } finally {
    closeSync(file);
  }
  return found;
}

/** γ × 100000 of pictures made for the sRGB curve or for a gamma of 1.8 to 2.4, which are taken as sRGB. */
const USUAL_GAMMA = { least: 41_000, most: 56_000 };
/** ITU-T H.273: primaries 1 and transfer 13 are those of sRGB; 0 in the last field but one: RGB. */
const SRGB_CICP = [1, 13, 0];

/** @throws FileError PNG_COLOUR where values are meant otherwise than in sRGB and no profile says how. */
export function checkPngColour(chunks: ReadonlyMap<string, Buffer>): void {
  const cicp = chunks.get('cICP');
  if (cicp && !SRGB_CICP.every((value, i) => cicp[i] === value)) {
    throw new FileError(
      'PNG_COLOUR',
      `The PNG’s colours are coded by cICP ${cicp[0]}/${cicp[1]}, which is not read. Save it in sRGB or with a profile.`,
    );
  }
  const gamma = chunks.get('gAMA');
  if (cicp || chunks.has('iCCP') || chunks.has('sRGB') || !gamma || gamma.length < 4) return;
  const value = gamma.readUInt32BE(0);
  if (value >= USUAL_GAMMA.least && value <= USUAL_GAMMA.most) return;
  throw new FileError(
    'PNG_COLOUR',
    `The PNG says a gamma of ${(value / 1e5).toFixed(2)}, which is not read without a profile. Save it in sRGB or with one.`,
  );
}
