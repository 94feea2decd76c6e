import { existsSync, readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { Services } from '../services';

export interface Emptied {
  readonly frames: number;
  readonly bytes: number;
}

/**
 * Throws away what lies in the trash, and the files that belonged to nothing else. The database goes first: a process
 * that ends in the middle leaves files that no frame knows, which the next start sets aside.
 */
export function emptyTrash({ stores, folder }: Services): Emptied {
  const { frames, files } = stores.trash.empty();
  let bytes = 0;
  for (const sha256 of files) {
    if (stores.frames.knowsFile(sha256) || stores.versions.knowsFile(sha256)) continue;
    const original = folder.original(sha256);
    if (existsSync(original)) bytes += statSync(original).size;
    rmSync(original, { force: true });
    // Samples, and what is kept beside them.
    for (const name of readdirSync(folder.derived)) {
      if (name.startsWith(sha256.slice(0, 24))) rmSync(join(folder.derived, name), { force: true });
    }
  }
  return { frames, bytes };
}
