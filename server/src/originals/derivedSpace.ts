import { readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';

const GIB = 1024 ** 3;
const DEFAULT_GIB = 10;
/** After making room there is some, so that not every new file makes it anew. */
const KEPT_SHARE = 0.9;

/** How much room decoded samples may take, from `VITROCEPT_DERIVED_GB`. */
export function derivedLimit(text: string | undefined): number {
  const limit = Number(text);
  return text && Number.isFinite(limit) && limit > 0 ? limit * GIB : DEFAULT_GIB * GIB;
}

/** Deletes what was used least recently until the rest has room. What is deleted is made again when it is needed. */
export function makeRoom(derived: string, mostBytes: number): void {
  const files = readdirSync(derived)
    .filter((name) => !name.endsWith('.part'))
    .flatMap((name) => {
      const path = join(derived, name);
      const found = statSync(path, { throwIfNoEntry: false });
      return found ? [{ path, bytes: found.size, usedMs: Math.max(found.atimeMs, found.mtimeMs) }] : [];
    })
    .sort((a, b) => a.usedMs - b.usedMs);
  let bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  if (bytes <= mostBytes) return;
  // The newest stays whatever its size: somebody is about to use it.
  for (const file of files.slice(0, -1)) {
    if (bytes <= mostBytes * KEPT_SHARE) return;
    rmSync(file.path, { force: true });
    bytes -= file.bytes;
  }
}
