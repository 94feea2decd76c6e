import { open } from 'node:fs/promises';
import { FileError } from '../fileError';
import type { Decoder } from './decoder';
import { avifDecoder } from './avif';
import { rawFileDecoder } from './rawFile';
import { dngDecoder } from './dng';
import { jpegDecoder } from './jpeg';
import { pngDecoder } from './png';
import { tiffDecoder } from './tiff';

export const DECODERS: readonly Decoder[] = [
  jpegDecoder,
  pngDecoder,
  dngDecoder,
  rawFileDecoder,
  tiffDecoder,
  avifDecoder,
];

/** Kinds of pictures that are refused by their name, by how they begin. */
const KNOWN_OTHERS: readonly { readonly name: string; isIt(head: Buffer): boolean }[] = [
  { name: 'HEIC', isIt: (head) => /^ftyp(hei|hev|mif1|msf1)/.test(head.toString('latin1', 4, 12)) },
  { name: 'JPEG XL', isIt: (head) => /^(\xff\n|\0\0\0\fJXL )/.test(head.toString('latin1', 0, 8)) },
  { name: 'JPEG 2000', isIt: (head) => /^(\xff\x4f\xff\x51|\0\0\0\fjP  )/.test(head.toString('latin1', 0, 8)) },
  { name: 'WebP', isIt: (head) => /^RIFF....WEBP/s.test(head.toString('latin1', 0, 12)) },
  { name: 'a GIF', isIt: (head) => /^GIF8/.test(head.toString('latin1', 0, 4)) },
];

/**
 * @throws FileError NOT_READ for kinds that are known and not read, NOT_A_PICTURE where no decoder takes the file for
 * its own.
 */
export async function decoderOf(path: string): Promise<Decoder> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(16), 0, 16, 0);
    const head = buffer.subarray(0, bytesRead);
    const own = DECODERS.find((decoder) => decoder.isItsOwn(head, path));
    if (own) return own;
    const other = KNOWN_OTHERS.find(({ isIt }) => isIt(head));
    if (other) {
      throw new FileError(
        'NOT_READ',
        `The file is ${other.name}, which is not read. Save it as TIFF or JPEG and bring that in.`,
      );
    }
    const kinds = DECODERS.map(({ label }) => label);
    const names = `${kinds.slice(0, -1).join(', ')} or ${kinds.at(-1)}`;
    throw new FileError('NOT_A_PICTURE', `The file is not a ${names} picture, whatever its name says.`);
  } finally {
    await file.close();
  }
}
