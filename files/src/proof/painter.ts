import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import * as fontkit from 'fontkit';

/** Fonts of the sheet: words, figures, headings. */
export type FontName = 'words' | 'figures' | 'strong';

/** What a sheet is drawn with: places and sizes in points, from the upper left. */
export interface Painter {
  text(x: number, baseline: number, text: string, font: FontName, size: number, colour: string): void;
  /** A PNG or JPEG, its samples not smoothed. */
  image(bytes: Buffer, x: number, y: number, width: number, height: number): void;
  line(x1: number, y1: number, x2: number, y2: number, colour: string): void;
  /** Open ring, half ring, solid square, dash: the marks of the page. */
  mark(kind: MarkKind, x: number, y: number, size: number): void;
  nextPage(): void;
  finish(): Promise<Buffer>;
}

export type MarkKind = 'safe' | 'check' | 'damaged' | 'not measurable';

export const INK = '#1C1F1E';
export const SOFT_INK = '#5B615F';
export const RULE = '#CFCFCB';
export const MARK_COLOURS: Readonly<Record<MarkKind, string>> = {
  safe: '#17695F',
  check: '#8A5A00',
  damaged: '#9C2A2A',
  'not measurable': SOFT_INK,
};

/** A4, in points. */
export const PAGE = { width: 595.28, height: 841.89 } as const;

const FILES: Readonly<Record<FontName, string>> = {
  words: '@fontsource/ibm-plex-sans/files/ibm-plex-sans-latin-400-normal.woff',
  strong: '@fontsource/ibm-plex-sans/files/ibm-plex-sans-latin-600-normal.woff',
  figures: '@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-400-normal.woff2',
};

const read = new Map<FontName, Buffer>();

/** The bytes of a font that ships with the application. */
export function fontBytes(name: FontName): Buffer {
  let bytes = read.get(name);
  if (!bytes) read.set(name, (bytes = readFileSync(createRequire(import.meta.url).resolve(FILES[name]))));
  return bytes;
}

const made = new Map<FontName, fontkit.Font>();

export function fontOf(name: FontName): fontkit.Font {
  let font = made.get(name);
  if (!font) made.set(name, (font = fontkit.create(fontBytes(name)) as fontkit.Font));
  return font;
}

/** Width of a line of text, points. */
export function widthOf(text: string, name: FontName, size: number): number {
  const font = fontOf(name);
  return (font.layout(text).advanceWidth / font.unitsPerEm) * size;
}

/** What the fonts that ship hold, of what the application says. */
export const printable = (text: string): string =>
  text
    .replaceAll('ΔE₀₀', 'dE00')
    .replaceAll('₀', '0')
    .replaceAll('σ', 's')
    .replace(/[^\u0020-\u00ff\u2013\u2014\u2018-\u201e\u2026\u20ac\u2212\u00d7]/g, '?');

/** Text in lines of at most so many points; a word that is longer is cut. */
export function wrapped(text: string, name: FontName, size: number, most: number): string[] {
  const lines: string[] = [];
  let line = '';
  for (const word of printable(text)
    .split(/\s+/)
    .flatMap((whole) => pieces(whole, name, size, most))) {
    const longer = line ? `${line} ${word}` : word;
    if (line && widthOf(longer, name, size) > most) {
      lines.push(line);
      line = word;
    } else line = longer;
  }
  return line ? [...lines, line] : lines;
}

function pieces(word: string, name: FontName, size: number, most: number): string[] {
  if (widthOf(word, name, size) <= most) return [word];
  const half = Math.floor(word.length / 2);
  if (half < 1) return [word];
  return [...pieces(word.slice(0, half), name, size, most), ...pieces(word.slice(half), name, size, most)];
}
