import type { ColourSpace, NoiseLine } from '@vitrocept/core';
import type { Exposure } from '../exif';
import type { Directories } from '../ifd';

export type FileFormat = 'jpeg' | 'png' | 'tiff' | 'dng' | 'avif' | 'raw';

/** What is known of a picture file before its samples are decoded. */
export interface PictureFacts {
  readonly format: FileFormat;
  /** Upright size, after the EXIF turn. */
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3;
  readonly bits: 8 | 16;
  /** Bits of a sample in the file itself; more in `bits` where it is converted. */
  readonly fileBits: 8 | 16;
  readonly icc: Buffer | null;
  /** The file's own profile, which works by tables: samples are converted from it as they are decoded. */
  readonly tables?: Buffer;
  readonly space: ColourSpace;
  readonly directories: Directories | null;
  readonly exposure: Exposure;
  /** The XMP packet. */
  readonly xmp: Buffer | null;
  /** The IPTC datasets. */
  readonly iptc: Buffer | null;
  readonly orientation: number;
  /** Developed from a sensor's numbers: the image library does not know it. */
  readonly isSensorData: boolean;
  /** Of a TIFF: the page that holds the picture. */
  readonly page: number;
}

export interface DecodeOptions {
  /** The codes are taken as they stand (masks, point spread functions): how the file means them is nothing. */
  readonly onlyValues?: boolean;
}

export interface Decoded {
  /** Upright, interleaved, untouched by any colour profile; 8-bit files as Uint8Array, 16-bit as Uint16Array. */
  readonly samples: Uint8Array | Uint16Array;
  /** Of the sensor, in the picture's linear channels, where it was measured before a mosaic was filled in. */
  readonly sensorNoise?: readonly NoiseLine[];
}

/** One kind of file. A new kind is a file beside this one and a line in index.ts. */
export interface Decoder {
  readonly format: FileFormat;
  /** As people write it. */
  readonly label: string;
  /** @param head - The first 16 bytes; what the file is called says nothing. */
  isItsOwn(head: Buffer, path: string): boolean;
  /**
   * Looks at a file without decoding it: size limits, colour profile, EXIF.
   *
   * @throws FileError with a sentence; CoreError PROFILE_* for colour profiles that cannot be used.
   */
  inspect(path: string, bytes: number, options: DecodeOptions): Promise<PictureFacts>;
  decode(path: string, facts: PictureFacts): Promise<Decoded>;
}
