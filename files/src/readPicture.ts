import { stat } from 'node:fs/promises';
import { decoderOf } from './decoders';
import type { Decoded, DecodeOptions, PictureFacts } from './decoders/decoder';
import { FileError } from './fileError';
import { LIMITS } from './limits';

export type DecodedPicture = PictureFacts & Decoded;

/**
 * Looks at a file without decoding it: kind by its first bytes (never by its name), size limits, colour profile, EXIF.
 *
 * @throws FileError with a sentence; CoreError PROFILE_* for colour profiles that cannot be used.
 */
export async function inspectPicture(path: string, options: DecodeOptions = {}): Promise<PictureFacts> {
  const size = await bytesOf(path);
  if (size === 0) throw new FileError('FILE_EMPTY', 'The file is empty (0 bytes).');
  if (size > LIMITS.fileBytes) {
    throw new FileError(
      'FILE_TOO_LARGE',
      `The file has ${megabytes(size)} MB; at most ${megabytes(LIMITS.fileBytes)} MB are taken.`,
    );
  }
  return (await decoderOf(path)).inspect(path, size, options);
}

/** Decodes to upright code values, untouched by any colour profile. Transparency is left out. */
export async function readPicture(path: string, options?: DecodeOptions): Promise<DecodedPicture> {
  const facts = await inspectPicture(path, options);
  return { ...facts, ...(await (await decoderOf(path)).decode(path, facts)) };
}

async function bytesOf(path: string): Promise<number> {
  const found = await stat(path).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') throw new FileError('FILE_MISSING', `There is no file ${path}.`);
    if (error.code === 'EACCES') throw new FileError('FILE_FORBIDDEN', `${path} may not be read: no permission.`);
    throw error;
  });
  if (!found.isFile()) throw new FileError('FILE_NOT_ONE', `${path} is not a file.`);
  return found.size;
}

const megabytes = (bytes: number) => Math.round(bytes / (1024 * 1024));
