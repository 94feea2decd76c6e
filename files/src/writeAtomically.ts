import { statSync } from 'node:fs';
import { link, mkdir, open, rename, rm, stat, writeFile, type FileHandle } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { randomUUID } from 'node:crypto';
import { FileError } from './fileError';

/** Whether what is at the place already may be replaced. */
export type Replacing = 'never' | 'allowed';

/**
 * Writes a file whole or not at all: a temporary file beside it, flushed to disk, put in place in one step. Resolves
 * with its size in bytes.
 *
 * @throws FileError FILE_EXISTS, DISK_FULL, DISK_READ_ONLY
 */
export async function writeFileAtomically(
  path: string,
  replacing: Replacing,
  write: (file: FileHandle) => Promise<void>,
): Promise<number> {
  const temporary = join(dirname(path), `.${randomUUID()}.part`);
  try {
    await mkdir(dirname(path), { recursive: true });
    const file = await open(temporary, 'wx');
    try {
      await write(file);
      await file.sync();
    } finally {
      await file.close();
    }
    const { size } = await stat(temporary);
    await (replacing === 'allowed' ? rename(temporary, path) : putInPlace(temporary, path));
    return size;
  } catch (error) {
    await rm(temporary, { force: true }).catch(() => undefined);
    throw diskError(error as NodeJS.ErrnoException);
  }
}

/** Made from nothing, or made anew: derived files may be written over. */
export async function writeAtomically(path: string, bytes: Uint8Array | readonly Uint8Array[]): Promise<void> {
  await writeFileAtomically(path, 'allowed', (file) =>
    writeFile(file, bytes instanceof Uint8Array ? bytes : [...bytes]),
  );
}

/** Tells a file from any other, and from itself once it was written to; null where there is none. */
export function fileState(path: string): string | null {
  const found = statSync(path, { throwIfNoEntry: false });
  return found ? `${found.ino} ${found.size} ${found.mtimeMs}` : null;
}

/**
 * Gives a whole file its name, beside it: unlike a rename, a link fails where something is already.
 *
 * @throws FileError FILE_EXISTS
 */
export async function putInPlace(temporary: string, path: string): Promise<void> {
  try {
    await link(temporary, path);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') {
      throw new FileError('FILE_EXISTS', `There is a file ${basename(path)} already, and nothing is ever replaced.`);
    }
    // Some file systems know no links.
    if (!['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS'].includes(code ?? '')) throw error;
    await (await open(path, 'wx')).close();
    await rename(temporary, path);
    return;
  }
  await rm(temporary, { force: true });
}

export function diskError(error: NodeJS.ErrnoException): Error {
  if (error.code === 'ENOSPC' || error.code === 'EDQUOT')
    return new FileError('DISK_FULL', 'The disk is full. Make room and try again.');
  if (error.code === 'EACCES' || error.code === 'EROFS' || error.code === 'EPERM') {
    return new FileError('DISK_READ_ONLY', 'The folder cannot be written to. Check its permissions.');
  }
  return error;
}
