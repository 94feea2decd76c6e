import type { BadSamples, CorrectedArea, Region, SensorCorrection } from '@vitrocept/core';
import type { Directory } from '../ifd';
import { FileError } from '../fileError';
import { DNG } from './dngTags';

/** What a DNG asks to be done with its samples, as far as it is done here. */
export interface DngCorrections {
  readonly bad: BadSamples;
  /** Of light, in order. */
  readonly light: readonly SensorCorrection[];
}

const OPCODE = {
  vignette: 3,
  badConstant: 4,
  badList: 5,
  table: 7,
  polynomial: 8,
  gainMap: 9,
  deltaPerRow: 10,
  deltaPerColumn: 11,
  scalePerRow: 12,
  scalePerColumn: 13,
} as const;

const MOST_OPCODES = 64;
const MOST_POINTS = 1 << 20;

/**
 * The lists of opcodes of a DNG: the first is of what was read out, the second of light, the third of the filled-in
 * picture, of which only the fall-off is taken: a gain of all colours alike. What is not known is passed over, and so
 * are warps, which would resample before blur is measured.
 *
 * @throws FileError RAW_OPCODES where a list is cut off.
 * Source: the open DNG specification (1.4.0.0, chapter 7); lists are written highest byte first, whatever the file is.
 */
export function dngCorrections(raw: Directory, active: Region): DngCorrections {
  const [first, second, third] = [DNG.opcodes1, DNG.opcodes2, DNG.opcodes3].map((tag) => opcodesOf(raw, tag));
  const bad = { places: [] as { x: number; y: number }[], numbers: [] as number[] };
  const light: SensorCorrection[] = [];
  for (const { id, from } of first) {
    if (id === OPCODE.badConstant) bad.numbers.push(from.long());
    else if (id === OPCODE.badList) bad.places = bad.places.concat(badPlaces(from, active));
  }
  for (const { id, from } of [...second, ...third.filter((one) => one.id === OPCODE.vignette)]) {
    const one = correctionOf(id, from);
    if (one) light.push(one);
  }
  return { bad, light };
}

interface Opcode {
  readonly id: number;
  readonly from: Reader;
}

function opcodesOf(raw: Directory, tag: number): Opcode[] {
  const field = raw.get(tag);
  if (!field) return [];
  const from = new Reader(field.value);
  const count = from.long();
  if (count > MOST_OPCODES) throw cutOff();
  return Array.from({ length: count }, () => {
    const [id, , , bytes] = [from.long(), from.long(), from.long(), from.long()];
    return { id, from: from.part(bytes) };
  });
}

function correctionOf(id: number, from: Reader): SensorCorrection | null {
  switch (id) {
    case OPCODE.vignette: {
      const k = from.doubles(5);
      const [across, down] = from.doubles(2);
      return { kind: 'radial-gain', k, middle: { across, down } };
    }
    case OPCODE.gainMap: {
      const area = areaOf(from);
      const [rows, columns] = [from.long(), from.long()];
      const [spaceDown, spaceAcross, down, across] = from.doubles(4);
      const planes = from.long();
      if (rows < 1 || columns < 1 || planes < 1 || rows * columns * planes > MOST_POINTS) throw cutOff();
      const gains = from.floats(rows * columns * planes);
      const spacing = { down: spaceDown, across: spaceAcross };
      return { kind: 'gain-map', area, rows, columns, planes, spacing, origin: { down, across }, gains };
    }
    case OPCODE.table: {
      const area = areaOf(from);
      const count = from.count();
      if (count < 1) throw cutOff();
      return { kind: 'table', area, values: from.shorts(count) };
    }
    case OPCODE.polynomial: {
      const area = areaOf(from);
      return { kind: 'polynomial', area, values: from.doubles(from.count() + 1) };
    }
    case OPCODE.deltaPerRow:
    case OPCODE.deltaPerColumn:
    case OPCODE.scalePerRow:
    case OPCODE.scalePerColumn: {
      const area = areaOf(from);
      const kind = id === OPCODE.deltaPerRow || id === OPCODE.deltaPerColumn ? 'delta' : 'scale';
      const along = id === OPCODE.deltaPerRow || id === OPCODE.scalePerRow ? 'row' : 'column';
      return { kind, along, area, values: from.floats(from.count()) };
    }
    default:
      return null;
  }
}

function areaOf(from: Reader): CorrectedArea {
  const [top, left, bottom, right, plane, planes, rowPitch, columnPitch] = Array.from({ length: 8 }, () => from.long());
  if (rowPitch < 1 || columnPitch < 1) throw cutOff();
  return { top, left, bottom, right, plane, planes, rowPitch, columnPitch };
}

/** Places of the stored picture, in the part that saw light. */
function badPlaces(from: Reader, { x: left, y: top }: Region) {
  from.long();
  const [points, rects] = [from.count(), from.count()];
  const places = Array.from({ length: points }, () => {
    const [y, x] = [from.long(), from.long()];
    return { x: x - left, y: y - top };
  });
  for (let i = 0; i < rects; i++) {
    const [y0, x0, y1, x1] = [from.long(), from.long(), from.long(), from.long()];
    // Of no height or no width: nothing, however long it says that it is the other way.
    if (y1 <= y0 || x1 <= x0) continue;
    if ((y1 - y0) * (x1 - x0) + places.length > MOST_POINTS) throw cutOff();
    for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) places.push({ x: x - left, y: y - top });
  }
  return places;
}

class Reader {
  private at = 0;

  constructor(private readonly bytes: Buffer) {}

  private next(length: number): number {
    const at = this.at;
    this.at += length;
    if (this.at > this.bytes.length) throw cutOff();
    return at;
  }

  long(): number {
    return this.bytes.readUInt32BE(this.next(4));
  }

  count(): number {
    const count = this.long();
    if (count > MOST_POINTS) throw cutOff();
    return count;
  }

  shorts(count: number): number[] {
    return Array.from({ length: count }, () => this.bytes.readUInt16BE(this.next(2)));
  }

  floats(count: number): number[] {
    return Array.from({ length: count }, () => this.bytes.readFloatBE(this.next(4)));
  }

  doubles(count: number): number[] {
    return Array.from({ length: count }, () => this.bytes.readDoubleBE(this.next(8)));
  }

  part(length: number): Reader {
    const at = this.next(length);
    return new Reader(this.bytes.subarray(at, at + length));
  }
}

const cutOff = () =>
  new FileError('RAW_OPCODES', 'The DNG is damaged: what its maker wrote down to be corrected is cut off.');
