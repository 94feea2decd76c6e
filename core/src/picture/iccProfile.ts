import { CoreError } from '../errors';
import { srgbDecode } from './toneCurve';

/** One channel's curve of a profile: encoded 0..1 to linear 0..1. */
export type Curve = (encoded: number) => number;

export interface MatrixCurves {
  readonly description: string;
  /** Rows X, Y, Z (D50) by columns red, green, blue. Absent for a grey profile. */
  readonly toXyzD50: readonly number[] | null;
  readonly curves: readonly Curve[];
}

/**
 * Reads a matrix-and-curve or grey profile.
 * Source: ICC.1:2022 (profile version 4.4), 7.2 header, 9.2 tags, 10.6 curveType, 10.18 parametricCurveType,
 * 10.31 XYZType.
 *
 * @throws CoreError PROFILE_BROKEN, PROFILE_CMYK, PROFILE_TABLES
 */
export function parseIccProfile(bytes: Uint8Array): MatrixCurves {
  if (bytes.length < 132) throw broken('it is shorter than its header');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (text(view, 36, 4) !== 'acsp') throw broken('its signature is missing');
  const space = text(view, 16, 4);
  if (space === 'CMYK') {
    throw new CoreError('PROFILE_CMYK', 'The picture is in CMYK ink values. Export it as RGB and bring that in.');
  }
  if (space !== 'RGB ' && space !== 'GRAY') {
    throw new CoreError('PROFILE_TABLES', `The colour profile describes “${space.trim()}” values, not RGB or grey.`);
  }
  const tags = tagTable(view);
  const description = descriptionOf(view, tags) || 'unnamed profile';
  if (space === 'GRAY') return { description, toXyzD50: null, curves: [curveAt(view, tags.get('kTRC'))] };
  if (!['rXYZ', 'gXYZ', 'bXYZ', 'rTRC', 'gTRC', 'bTRC'].every((name) => tags.has(name))) {
    throw new CoreError(
      'PROFILE_TABLES',
      `The colour profile “${description}” works by look-up tables, which Vitrocept cannot use yet. Convert the picture to sRGB or another matrix profile.`,
    );
  }
  const columns = ['rXYZ', 'gXYZ', 'bXYZ'].map((name) => xyzAt(view, tags.get(name)));
  return {
    description,
    toXyzD50: [0, 1, 2].flatMap((row) => columns.map((column) => column[row])),
    curves: ['rTRC', 'gTRC', 'bTRC'].map((name) => curveAt(view, tags.get(name))),
  };
}

interface Tag {
  readonly offset: number;
  readonly length: number;
}

/** Whether an RGB profile works by look-up tables, which matrix and curves cannot say. */
export function hasTables(bytes: Uint8Array): boolean {
  if (bytes.length < 132) return false;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (text(view, 36, 4) !== 'acsp' || text(view, 16, 4) !== 'RGB ') return false;
  const tags = tagTable(view);
  return tags.has('A2B0') && !['rXYZ', 'gXYZ', 'bXYZ', 'rTRC', 'gTRC', 'bTRC'].every((name) => tags.has(name));
}

function broken(why: string): CoreError {
  return new CoreError('PROFILE_BROKEN', `The colour profile inside the file is damaged: ${why}.`);
}

function text(view: DataView, offset: number, length: number): string {
  let found = '';
  for (let i = 0; i < length && offset + i < view.byteLength; i++) {
    found += String.fromCharCode(view.getUint8(offset + i));
  }
  return found;
}

function tagTable(view: DataView): Map<string, Tag> {
  const count = view.getUint32(128);
  if (count > 100 || 132 + count * 12 > view.byteLength) throw broken(`it claims ${count} tags`);
  const tags = new Map<string, Tag>();
  for (let i = 0; i < count; i++) {
    const at = 132 + i * 12;
    const tag = { offset: view.getUint32(at + 4), length: view.getUint32(at + 8) };
    if (tag.offset + tag.length > view.byteLength) throw broken(`tag ${text(view, at, 4)} reaches past its end`);
    tags.set(text(view, at, 4), tag);
  }
  return tags;
}

function descriptionOf(view: DataView, tags: Map<string, Tag>): string {
  const tag = tags.get('desc');
  if (!tag || tag.length < 12) return '';
  if (text(view, tag.offset, 4) === 'desc') {
    return text(view, tag.offset + 12, Math.min(view.getUint32(tag.offset + 8), tag.length - 12)).replace(/\0.*$/s, '');
  }
  if (text(view, tag.offset, 4) !== 'mluc' || tag.length < 28) return '';
  const length = Math.min(view.getUint32(tag.offset + 20), tag.length);
  const start = tag.offset + view.getUint32(tag.offset + 24);
  let found = '';
  for (let i = 0; i + 1 < length && start + i + 1 < view.byteLength; i += 2) {
    found += String.fromCharCode(view.getUint16(start + i));
  }
  return found;
}

const s15Fixed16 = (view: DataView, offset: number) => view.getInt32(offset) / 65536;

function xyzAt(view: DataView, tag: Tag | undefined): [number, number, number] {
  if (!tag || tag.length < 20 || text(view, tag.offset, 4) !== 'XYZ ') throw broken('a primary colour is missing');
  return [s15Fixed16(view, tag.offset + 8), s15Fixed16(view, tag.offset + 12), s15Fixed16(view, tag.offset + 16)];
}

function curveAt(view: DataView, tag: Tag | undefined): Curve {
  if (!tag || tag.length < 12) throw broken('a tone curve is missing');
  const kind = text(view, tag.offset, 4);
  const curve = kind === 'curv' ? sampledCurve(view, tag) : kind === 'para' ? parametricCurve(view, tag) : null;
  if (!curve) throw broken(`a tone curve is of the unknown kind “${kind}”`);
  let last = curve(0);
  for (let i = 1; i <= 1024; i++) {
    const value = curve(i / 1024);
    if (!Number.isFinite(value) || value < last - 1e-6) throw broken('a tone curve falls instead of rising');
    last = value;
  }
  return curve;
}

function sampledCurve(view: DataView, tag: Tag): Curve {
  const count = view.getUint32(tag.offset + 8);
  if (count === 0) return (encoded) => encoded;
  if (12 + count * 2 > tag.length + 3) throw broken('a tone curve is cut off');
  if (count === 1) {
    const gamma = view.getUint16(tag.offset + 12) / 256;
    return (encoded) => Math.pow(encoded, gamma);
  }
  const samples = Float64Array.from({ length: count }, (_, i) => view.getUint16(tag.offset + 12 + 2 * i) / 65535);
  return (encoded) => {
    const place = Math.min(Math.max(encoded, 0), 1) * (count - 1);
    const left = Math.min(Math.floor(place), count - 2);
    return samples[left] + (samples[left + 1] - samples[left]) * (place - left);
  };
}

/** Source: ICC.1:2022, table 68, function types 0 to 4. */
function parametricCurve(view: DataView, tag: Tag): Curve {
  const kind = view.getUint16(tag.offset + 8);
  const needed = [1, 3, 4, 5, 7][kind];
  if (needed === undefined || 12 + needed * 4 > tag.length + 3) throw broken('a tone curve has the wrong length');
  const [g, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from({ length: needed }, (_, i) =>
    s15Fixed16(view, tag.offset + 12 + 4 * i),
  );
  const power = (x: number) => Math.pow(Math.max(0, a * x + b), g);
  switch (kind) {
    case 0:
      return (x) => Math.pow(x, g);
    case 1:
      return (x) => (x >= -b / a ? power(x) : 0);
    case 2:
      return (x) => (x >= -b / a ? power(x) + c : c);
    case 3:
      return (x) => (x >= d ? power(x) : c * x);
    default:
      return (x) => (x >= d ? power(x) + e : c * x + f);
  }
}

/** sRGB without a file. Primaries adapted to D50: IEC 61966-2-1 through the Bradford transform, as in ICC profiles. */
export const SRGB: MatrixCurves = {
  description: 'sRGB',
  toXyzD50: [0.4360747, 0.3850649, 0.1430804, 0.2225045, 0.7168786, 0.0606169, 0.0139322, 0.0971045, 0.7141733],
  curves: [srgbDecode, srgbDecode, srgbDecode],
};

export const GREY_SRGB: MatrixCurves = { description: 'grey, sRGB curve', toXyzD50: null, curves: [srgbDecode] };
