import { mkdir, open, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { randomUUID } from 'node:crypto';
import { FileError } from './fileError';

/** Writes a file whole or not at all: temporary file beside it, flushed to disk, renamed. */
export async function writeAtomically(path: string, bytes: Uint8Array): Promise<void> {
  const temporary = join(dirname(path), `.${randomUUID()}.part`);
  try {
    await mkdir(dirname(path), { recursive: true });
    const file = await open(temporary, 'wx');
    try {
      await file.writeFile(bytes);
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true }).catch(() => undefined);
    throw diskError(error as NodeJS.ErrnoException);
  }
}

export function diskError(error: NodeJS.ErrnoException): Error {
  if (error.code === 'ENOSPC') return new FileError('DISK_FULL', 'The disk is full. Make room and try again.');
  if (error.code === 'EACCES' || error.code === 'EROFS' || error.code === 'EPERM') {
    return new FileError('DISK_READ_ONLY', 'The folder cannot be written to. Check its permissions.');
  }
  return error;
}
