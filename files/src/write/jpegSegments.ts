import { resourcesOfIptc } from '../metadata/iptc';
import type { Beside } from './beside';

/** What a JPEG segment holds beside its head and the names of its kinds: ITU-T T.81, B.1.1.4, 65535 with its length. */
export const SEGMENT_BYTES = 65_000;

const JPEG_XMP_HEAD = Buffer.from('http://ns.adobe.com/xap/1.0/\0', 'latin1');

/**
 * Source: Exif 2.32, 4.5.4 (APP1); XMP specification part 3 (2020), 1.1.3 (APP1, APP13); ICC.1:2022, annex B.4 (APP2,
 * split into numbered parts).
 */
export function withJpegSegments(jpeg: Buffer, icc: Buffer | null, exif: Buffer, { xmp, iptc }: Beside): Buffer {
  const segments = [segment(0xe1, Buffer.concat([Buffer.from('Exif\0\0', 'latin1'), exif]))];
  // One segment holds a packet; a longer one is left out rather than cut.
  if (xmp.length <= SEGMENT_BYTES) segments.push(segment(0xe1, Buffer.concat([JPEG_XMP_HEAD, xmp])));
  if (iptc && iptc.length <= SEGMENT_BYTES) segments.push(segment(0xed, resourcesOfIptc(iptc)));
  if (icc) {
    const parts = Math.ceil(icc.length / SEGMENT_BYTES);
    for (let part = 0; part < parts; part++) {
      const head = Buffer.from(`ICC_PROFILE\0${String.fromCharCode(part + 1, parts)}`, 'latin1');
      segments.push(
        segment(0xe2, Buffer.concat([head, icc.subarray(part * SEGMENT_BYTES, (part + 1) * SEGMENT_BYTES)])),
      );
    }
  }
  const afterStart = jpeg[2] === 0xff && jpeg[3] === 0xe0 ? 4 + jpeg.readUInt16BE(4) : 2;
  return Buffer.concat([jpeg.subarray(0, afterStart), ...segments, jpeg.subarray(afterStart)]);
}

function segment(marker: number, body: Buffer): Buffer {
  const head = Buffer.from([0xff, marker, 0, 0]);
  head.writeUInt16BE(body.length + 2, 2);
  return Buffer.concat([head, body]);
}
