import { existsSync } from 'node:fs';
import { join } from 'node:path';

/** File systems take 255 bytes for a name; stage, number and ending want some of them. */
const MOST_STEM_BYTES = 200;

/** The beginning of a text that has so many bytes at most, no character cut in two. */
export function withinBytes(text: string, most = MOST_STEM_BYTES): string {
  let bytes = 0;
  let kept = '';
  for (const character of text) {
    bytes += Buffer.byteLength(character);
    if (bytes > most) break;
    kept += character;
  }
  return kept;
}

/** A name that nothing in the folder has yet: name, name-2, … */
export function freeName(folder: string, name: string, ending: string, isTaken: (name: string) => boolean): string {
  for (let number = 1; ; number++) {
    const own = `${name}${number === 1 ? '' : `-${number}`}${ending}`;
    if (!isTaken(own) && !existsSync(join(folder, own))) return own;
  }
}
