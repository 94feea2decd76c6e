import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import type { ByteSource } from './ifd';

/** Lets `use` read of a file where it needs to, and closes it. */
export function withFile<T>(path: string, use: (source: ByteSource) => T): T {
  const file = openSync(path, 'r');
  try {
    return use({
      length: fstatSync(file).size,
      read(at, length) {
        const buffer = Buffer.alloc(Math.max(0, Math.min(length, this.length - at)));
        return buffer.subarray(0, readSync(file, buffer, 0, buffer.length, at));
      },
    });
  } finally {
    closeSync(file);
  }
}
