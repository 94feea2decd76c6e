/**
 * Lossless JPEG as the open DNG specification stores samples: one scan of all components, Huffman coded differences.
 * Source: ITU-T T.81 (1992), annexes C, F and H.
 */

/** By the next 16 bits: how long a code is, and the category that it names; length 0: no such code. */
interface Codes {
  readonly lengths: Uint8Array;
  readonly categories: Uint8Array;
}

const MARKER = { sof3: 0xc3, dht: 0xc4, soi: 0xd8, eoi: 0xd9, sos: 0xda, dri: 0xdd } as const;
const MOST_COMPONENTS = 4;

/**
 * @param expected - How many samples there have to be.
 * @returns Component after component of each px, row by row.
 * @throws Error in a few words where it cannot be read.
 */
export function readLosslessJpeg(bytes: Uint8Array, expected: number): Uint16Array {
  const word = (at: number) => (bytes[at] << 8) | bytes[at + 1];
  const tables = new Map<number, Codes>();
  let frame: { bits: number; width: number; height: number; ids: number[] } | null = null;
  let interval = 0;
  if (word(0) !== 0xff00 + MARKER.soi) throw new Error('its lossless JPEG has no beginning');
  for (let at = 2; at + 4 <= bytes.length;) {
    const marker = bytes[at + 1];
    const length = word(at + 2);
    const body = at + 4;
    const end = at + 2 + length;
    if (bytes[at] !== 0xff || length < 2 || end > bytes.length) break;
    if (marker === MARKER.dht) readTables(bytes, body, end, tables);
    else if (marker === MARKER.dri) interval = word(body);
    else if (marker === MARKER.sof3) {
      const ids = Array.from({ length: bytes[body + 5] }, (_, c) => bytes[body + 6 + 3 * c]);
      frame = { bits: bytes[body], height: word(body + 1), width: word(body + 3), ids };
    } else if (marker > 0xc0 && marker < 0xd0 && marker !== 0xc8 && marker !== 0xcc) {
      throw new Error('its JPEG is not lossless');
    } else if (marker === MARKER.sos) {
      if (!frame || frame.ids.length < 1 || frame.ids.length > MOST_COMPONENTS) break;
      const count = bytes[body];
      const codes = frame.ids.map((id) => {
        const own = Array.from({ length: count }, (_, k) => body + 1 + 2 * k).find((place) => bytes[place] === id);
        return own === undefined ? undefined : tables.get(bytes[own + 1] >> 4);
      });
      if (codes.some((one) => one === undefined)) break;
      if (frame.width * frame.height * codes.length !== expected) throw new Error('its lossless JPEG has another size');
      const last = body + 1 + 2 * count;
      const scan = { predictor: bytes[last], shift: bytes[last + 2] & 15, interval };
      return decoded(bytes, end, frame, codes as Codes[], scan);
    }
    at = end;
  }
  throw new Error('its lossless JPEG is not whole');
}

function readTables(bytes: Uint8Array, body: number, end: number, tables: Map<number, Codes>): void {
  for (let at = body; at + 17 <= end;) {
    const counts = bytes.subarray(at + 1, at + 17);
    const lengths = new Uint8Array(1 << 16);
    const categories = new Uint8Array(1 << 16);
    let value = at + 17;
    let code = 0;
    for (let length = 1; length <= 16; length++) {
      for (let k = 0; k < counts[length - 1]; k++, code += 1 << (16 - length), value++) {
        if (code + (1 << (16 - length)) > 1 << 16 || value >= end) throw new Error('its lossless JPEG is not whole');
        lengths.fill(length, code, code + (1 << (16 - length)));
        categories.fill(bytes[value], code, code + (1 << (16 - length)));
      }
    }
    tables.set(bytes[at] & 15, { lengths, categories });
    at = value;
  }
}

function decoded(
  bytes: Uint8Array,
  start: number,
  { bits, width, height, ids }: { readonly bits: number; width: number; height: number; ids: readonly number[] },
  codes: readonly Codes[],
  { predictor, shift, interval }: { readonly predictor: number; readonly shift: number; readonly interval: number },
): Uint16Array {
  const components = ids.length;
  const perRow = width * components;
  const out = new Uint16Array(perRow * height);
  const first = 1 << (bits - shift - 1);
  let at = start;
  let held = 0;
  let count = 0;
  /** Bits that stand for none. */
  let invented = 0;
  const fill = () => {
    while (count <= 16) {
      // A nought is stuffed in after 255; anything else there is a marker, and the bits before it are all there are.
      const isMarker = bytes[at] === 0xff && bytes[at + 1] !== 0;
      const byte = isMarker || at >= bytes.length ? 0 : bytes[at];
      if (isMarker || at >= bytes.length) invented += 8;
      else at += byte === 0xff ? 2 : 1;
      held = ((held << 8) | byte) >>> 0;
      count += 8;
    }
  };
  const take = (length: number) => {
    count -= length;
    const value = (held >>> count) & ((1 << length) - 1);
    held = count === 0 ? 0 : held & ((1 << count) - 1);
    return value;
  };
  const difference = ({ lengths, categories }: Codes) => {
    fill();
    const next = (held >>> (count - 16)) & 0xffff;
    const length = lengths[next];
    if (length === 0) throw new Error('its lossless JPEG is damaged');
    take(length);
    const category = categories[next];
    if (category === 0) return 0;
    if (category >= 16) return 1 << 15;
    fill();
    const value = take(category);
    return value < 1 << (category - 1) ? value - (1 << category) + 1 : value;
  };
  let untilRestart = interval;
  let isFirstRow = true;
  for (let y = 0; y < height; y++) {
    if (invented > count) throw new Error('samples are missing');
    for (let x = 0; x < width; x++) {
      if (interval > 0 && untilRestart-- === 0) {
        // What is left of the byte is nothing; then comes the marker.
        held = count = invented = 0;
        while (at + 1 < bytes.length && !(bytes[at] === 0xff && bytes[at + 1] >= 0xd0 && bytes[at + 1] <= 0xd7)) at++;
        at += 2;
        untilRestart = interval - 1;
        isFirstRow = true;
      }
      for (let c = 0; c < components; c++) {
        const i = y * perRow + x * components + c;
        const left = x > 0 ? out[i - components] : 0;
        const above = y > 0 ? out[i - perRow] : 0;
        const corner = x > 0 && y > 0 ? out[i - perRow - components] : 0;
        const guess = isFirstRow ? (x > 0 ? left : first) : x === 0 ? above : predicted(predictor, left, above, corner);
        out[i] = guess + difference(codes[c]);
      }
    }
    isFirstRow = false;
  }
  if (invented > count) throw new Error('samples are missing');
  if (shift > 0) for (let i = 0; i < out.length; i++) out[i] <<= shift;
  return out;
}

/** Table H.1. */
function predicted(predictor: number, left: number, above: number, corner: number): number {
  switch (predictor) {
    case 1:
      return left;
    case 2:
      return above;
    case 3:
      return corner;
    case 4:
      return left + above - corner;
    case 5:
      return left + ((above - corner) >> 1);
    case 6:
      return above + ((left - corner) >> 1);
    case 7:
      return (left + above) >> 1;
    default:
      throw new Error('its lossless JPEG predicts in no known way');
  }
}
