import { open } from 'node:fs/promises';
import { FileError } from '../fileError';
import type { Decoder } from './decoder';
import { dngDecoder } from './dng';
import { jpegDecoder } from './jpeg';
import { pngDecoder } from './png';
import { tiffDecoder } from './tiff';

export const DECODERS: readonly Decoder[] = [jpegDecoder, pngDecoder, dngDecoder, tiffDecoder];

/** @throws FileError NOT_A_PICTURE where no decoder takes the file for its own. */
export async function decoderOf(path: string): Promise<Decoder> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(16), 0, 16, 0);
    const head = buffer.subarray(0, bytesRead);
    const own = DECODERS.find((decoder) => decoder.isItsOwn(head, path));
    if (own) return own;
    const kinds = DECODERS.map(({ label }) => label);
    const names = `${kinds.slice(0, -1).join(', ')} or ${kinds.at(-1)}`;
    throw new FileError('NOT_A_PICTURE', `The file is not a ${names} picture, whatever its name says.`);
  } finally {
    await file.close();
  }
}
