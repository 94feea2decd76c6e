/** A profile to be written: what its codes mean. */
export interface WrittenProfile {
  readonly description: string;
  /** Rows X, Y, Z (D50) by columns red, green, blue; null for grey. */
  readonly toXyzD50: readonly number[] | null;
  /** The curve of all three channels as a parametric curve of kind 3 (g, a, b, c, d), of kind 0 (g). */
  readonly curve: readonly number[];
}

const D50 = [0.9642, 1, 0.8249];
const NO_RIGHTS = 'No copyright, use freely';

/**
 * A matrix-and-curve profile of version 4.
 * Source: ICC.1:2022, 7.2 header, 7.3 tag table, 10.15 multiLocalizedUnicodeType, 10.18 parametricCurveType, 10.31
 * XYZType.
 */
export function writeIccProfile({ description, toXyzD50, curve }: WrittenProfile): Uint8Array {
  const column = (c: number) => xyzTag([0, 3, 6].map((row) => toXyzD50![row + c]));
  const tone = parametricTag(curve);
  const colourTags = (): [string, Uint8Array][] => [
    ['rXYZ', column(0)],
    ['gXYZ', column(1)],
    ['bXYZ', column(2)],
    ['rTRC', tone],
    ['gTRC', tone],
    ['bTRC', tone],
  ];
  const tags: [name: string, body: Uint8Array][] = [
    ['desc', textTag(description)],
    ['cprt', textTag(NO_RIGHTS)],
    ['wtpt', xyzTag(D50)],
    ...(toXyzD50 ? colourTags() : [['kTRC', tone] as [string, Uint8Array]]),
  ];
  const bodies = [...new Set(tags.map(([, body]) => body))];
  const places = new Map<Uint8Array, number>();
  let at = 128 + 4 + 12 * tags.length;
  for (const body of bodies) {
    places.set(body, at);
    at += Math.ceil(body.length / 4) * 4;
  }
  const out = new Uint8Array(at);
  const view = new DataView(out.buffer);
  writeHeader(view, toXyzD50 ? 'RGB ' : 'GRAY');
  view.setUint32(128, tags.length);
  tags.forEach(([name, body], i) => {
    writeText(view, 132 + 12 * i, name);
    view.setUint32(136 + 12 * i, places.get(body)!);
    view.setUint32(140 + 12 * i, body.length);
  });
  for (const [body, place] of places) out.set(body, place);
  return out;
}

function writeHeader(view: DataView, space: string): void {
  view.setUint32(0, view.byteLength);
  view.setUint32(8, 0x04400000);
  writeText(view, 12, 'mntr');
  writeText(view, 16, space);
  writeText(view, 20, 'XYZ ');
  // A date that never changes: the same profile has the same bytes.
  [2026, 1, 1, 0, 0, 0].forEach((value, i) => view.setUint16(24 + 2 * i, value));
  writeText(view, 36, 'acsp');
  D50.forEach((value, i) => view.setInt32(68 + 4 * i, fixed(value)));
}

const fixed = (value: number) => Math.round(value * 65536);

function writeText(view: DataView, at: number, text: string): void {
  for (let i = 0; i < text.length; i++) view.setUint8(at + i, text.charCodeAt(i));
}

function tagOf(kind: string, bytes: number): { body: Uint8Array; view: DataView } {
  const body = new Uint8Array(8 + bytes);
  const view = new DataView(body.buffer);
  writeText(view, 0, kind);
  return { body, view };
}

function xyzTag(values: readonly number[]): Uint8Array {
  const { body, view } = tagOf('XYZ ', 12);
  values.forEach((value, i) => view.setInt32(8 + 4 * i, fixed(value)));
  return body;
}

function parametricTag(parameters: readonly number[]): Uint8Array {
  const { body, view } = tagOf('para', 4 + 4 * parameters.length);
  view.setUint16(8, parameters.length === 1 ? 0 : 3);
  parameters.forEach((value, i) => view.setInt32(12 + 4 * i, fixed(value)));
  return body;
}

function textTag(text: string): Uint8Array {
  const { body, view } = tagOf('mluc', 20 + 2 * text.length);
  view.setUint32(8, 1);
  view.setUint32(12, 12);
  writeText(view, 16, 'enUS');
  view.setUint32(20, 2 * text.length);
  view.setUint32(24, 28);
  for (let i = 0; i < text.length; i++) view.setUint16(28 + 2 * i, text.charCodeAt(i));
  return body;
}
