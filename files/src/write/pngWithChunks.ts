import { createReadStream } from 'node:fs';
import { writeFile, type FileHandle } from 'node:fs/promises';
import { crc32, deflateSync } from 'node:zlib';

/** Keyword, not compressed, no language: XMP specification part 3 (2020), 1.1.5. */
const PNG_XMP_HEAD = Buffer.from('XML:com.adobe.xmp\0\0\0\0\0', 'latin1');

/** Signature and IHDR of every PNG: W3C PNG (third edition), 5.2 and 11.2.1. */
const PNG_HEAD_BYTES = 8 + 25;

/** Source: W3C PNG (third edition), 11.3.2.3 iCCP, 11.3.3.4 iTXt and 11.3.4.5 eXIf. */
export async function writePngWithChunks(
  file: FileHandle,
  packed: string,
  icc: Buffer | null,
  exif: Buffer,
  xmp: Buffer,
): Promise<void> {
  const chunks = [];
  if (icc) chunks.push(pngChunk('iCCP', Buffer.concat([Buffer.from('ICC profile\0\0', 'latin1'), deflateSync(icc)])));
  chunks.push(pngChunk('eXIf', exif));
  chunks.push(pngChunk('iTXt', Buffer.concat([PNG_XMP_HEAD, xmp])));
  await writeFile(
    file,
    (async function* () {
      yield* createReadStream(packed, { start: 0, end: PNG_HEAD_BYTES - 1 });
      yield* chunks;
      yield* createReadStream(packed, { start: PNG_HEAD_BYTES, highWaterMark: 1 << 20 });
    })(),
  );
}

function pngChunk(kind: string, body: Buffer): Buffer {
  const out = Buffer.alloc(12 + body.length);
  out.writeUInt32BE(body.length, 0);
  out.write(kind, 4, 'latin1');
  body.copy(out, 8);
  out.writeUInt32BE(crc32(out.subarray(4, 8 + body.length)), 8 + body.length);
  return out;
}
