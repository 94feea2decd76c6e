import { closeSync, openSync, readSync } from 'node:fs';

/**
 * Chunks before the picture that say how its values are meant, by name. Source: W3C PNG (third edition), 5 and 11.3.
 */
const LOOKED_AT = new Set(['acTL', 'cHRM', 'cICP', 'gAMA', 'iCCP', 'sRGB']);
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
