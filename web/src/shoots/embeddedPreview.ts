/**
 * The JPEG that a raw file built as a TIFF holds for a first look: shown while the sensor's numbers are still being
 * sent and worked out. Only the directories are read, not the file.
 * Source: TIFF 6.0, section 2; the open DNG specification, 1.4.0.0, chapter 2 (SubIFDs, NewSubFileType).
 *
 * @returns Null for other files, and for those that cannot be read: then nothing is shown.
 */
export async function embeddedPreview(file: Blob): Promise<Blob | null> {
  try {
    const head = new DataView(await file.slice(0, 8).arrayBuffer());
    const order = head.getUint16(0);
    const isLittle = order === LITTLE;
    if (head.byteLength < 8 || (!isLittle && order !== BIG) || head.getUint16(2, isLittle) !== 42) return null;
    const main = await directoryAt(file, head.getUint32(4, isLittle), isLittle);
    if (!main.has(DNG_VERSION)) return null;
    const others = (main.get(SUB_IFDS) ?? []).slice(0, MOST_DIRECTORIES);
    const all = [main, ...(await Promise.all(others.map((at) => directoryAt(file, at, isLittle))))];
    const previews = all.filter((one) => one.get(SUBFILE_TYPE)?.[0] === REDUCED && one.get(COMPRESSION)?.[0] === JPEG);
    const [best] = previews.sort((p, q) => (q.get(WIDTH)?.[0] ?? 0) - (p.get(WIDTH)?.[0] ?? 0));
    const [offset] = best?.get(OFFSETS) ?? [];
    const [bytes] = best?.get(BYTES) ?? [];
    if (!offset || !bytes || offset + bytes > file.size) return null;
    return file.slice(offset, offset + bytes, 'image/jpeg');
  } catch {
    return null;
  }
}

const LITTLE = 0x4949;
const BIG = 0x4d4d;
const MOST_DIRECTORIES = 8;
const MOST_FIELDS = 500;
const MOST_VALUES = 16;
const SUBFILE_TYPE = 254;
const REDUCED = 1;
const WIDTH = 256;
const COMPRESSION = 259;
const JPEG = 7;
const OFFSETS = 273;
const BYTES = 279;
const SUB_IFDS = 330;
const DNG_VERSION = 50706;
/** Bytes of a value: BYTE, SHORT, LONG. */
const SIZES: Readonly<Record<number, number>> = { 1: 1, 3: 2, 4: 4 };

/** Whole numbers of a directory, by tag. */
async function directoryAt(file: Blob, at: number, isLittle: boolean): Promise<Map<number, number[]>> {
  const count = new DataView(await file.slice(at, at + 2).arrayBuffer()).getUint16(0, isLittle);
  const fields = new DataView(await file.slice(at + 2, at + 2 + 12 * Math.min(count, MOST_FIELDS)).arrayBuffer());
  const found = new Map<number, number[]>();
  for (let i = 0; i + 12 <= fields.byteLength; i += 12) {
    const size = SIZES[fields.getUint16(i + 2, isLittle)];
    const values = fields.getUint32(i + 4, isLittle);
    if (!size || values > MOST_VALUES) continue;
    const own =
      size * values <= 4
        ? new DataView(fields.buffer, i + 8, 4)
        : await place(file, fields.getUint32(i + 8, isLittle), size * values);
    found.set(
      fields.getUint16(i, isLittle),
      Array.from({ length: values }, (_, k) =>
        size === 1 ? own.getUint8(k) : size === 2 ? own.getUint16(2 * k, isLittle) : own.getUint32(4 * k, isLittle),
      ),
    );
  }
  return found;
}

const place = async (file: Blob, at: number, bytes: number) =>
  new DataView(await file.slice(at, at + bytes).arrayBuffer());
