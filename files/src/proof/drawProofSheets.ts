import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import sharp from 'sharp';
import {
  asLinearSrgb,
  finishedSizeWords,
  fitFor,
  keptAuditSentence,
  likenessSentence,
  MEASURES,
  prescriptionWords,
  worstOf,
  type Region,
} from '@vitrocept/core';
import { srgbPixels } from '../cropJpeg';
import { pieceOf } from '../pieces';
import { readPicture, type DecodedPicture } from '../readPicture';
import { smallOf } from '../smallPicture';
import { decodePiece } from '@vitrocept/core';
import {
  INK,
  PAGE,
  printable,
  RULE,
  SOFT_INK,
  widthOf,
  wrapped,
  type FontName,
  type MarkKind,
  type Painter,
} from './painter';
import type { Proved } from './proofSheet';
import { pdfPainter } from './pdfPainter';
import { pngPainter } from './pngPainter';

const MARGIN = 40;
const WIDTH = PAGE.width - 2 * MARGIN;
const MOST_PROBES = 3;
/** Of a crop, px of the picture; shown at 200 % of a screen of 96 px an inch. */
const CROP = { width: 164, height: 104 };
const CROP_POINTS = { width: 246, height: 156 };
const WHOLE_SIDE = 700;

/** A sheet for each copy: before and after, the audit, what was done in words, and the hashes of both files. */
export async function drawProofSheets(copies: readonly Proved[], as: 'pdf' | 'png'): Promise<Buffer> {
  const painter =
    as === 'pdf' ? pdfPainter(`Proof of ${copies.map(({ copyName }) => copyName).join(', ')}`) : pngPainter();
  for (const [number, copy] of copies.entries()) {
    if (number > 0) painter.nextPage();
    await drawSheet(painter, copy);
  }
  return painter.finish();
}

async function drawSheet(painter: Painter, proved: Proved): Promise<void> {
  const { prescription, frameName, copyName } = proved;
  const [before, after] = [await readPicture(proved.original), await readPicture(proved.copy)];
  const page = pen(painter);
  page.say(`Proof sheet: ${copyName}`, 'strong', 15, INK);
  page.say(
    `from ${frameName}, ${proved.renderedAt.slice(0, 16).replace('T', ' ')} UTC, by Vitrocept`,
    'words',
    9,
    SOFT_INK,
  );
  page.rule();
  page.pair(await wholeOf(before), await wholeOf(after), 170);
  const probes = cropsOf(proved, before, after);
  if (probes.length > 0) page.say('Original left, copy right. Places at 200 %, as pixels:', 'words', 8.5, SOFT_INK);
  for (const { region, verdict, text } of probes) {
    const room = probes.length > 2 ? 0.72 : 1;
    page.pair(await cropOf(before, region), await cropOf(after, region), CROP_POINTS.height * room, true);
    page.judged(verdict, text);
  }
  page.rule();
  for (const { term, text } of [...prescriptionWords(prescription), ...aboutTheCopy(proved, before, after)]) {
    page.told(term, text);
  }
  page.rule();
  page.told('Original', `SHA-256 ${await sha256(proved.original)}`, 'figures');
  page.told('Copy', `SHA-256 ${await sha256(proved.copy)}`, 'figures');
  page.told(
    'To check',
    'vitrocept prove COPY ORIGINAL --prescription PRESCRIPTION.json makes the copy again and compares every sample.',
  );
}

/** A place that is shown, with what the audit said there. */
interface JudgedPlace {
  readonly at: { readonly x: number; readonly y: number };
  readonly verdict: MarkKind;
  readonly text: string;
}

function cropsOf({ prescription, worst }: Proved, before: DecodedPicture, after: DecodedPicture) {
  if (before.width !== after.width || before.height !== after.height) return [];
  const judged: JudgedPlace[] = (prescription.audit ?? []).map((kept, i) => ({
    at: { x: kept.x, y: kept.y },
    verdict: worstOf(MEASURES.map((measure) => kept[measure]?.verdict ?? 'not measurable')),
    text: keptAuditSentence(kept, `At ${kept.probe || `probe ${i + 1}`}`),
  }));
  if (judged.length === 0 && worst) {
    judged.push({ at: worst.place, verdict: worst.verdict, text: `Where the audit found most: ${worst.verdict}.` });
  }
  const unjudged: JudgedPlace[] = prescription.probes.map(({ x, y }) => ({
    at: { x, y },
    verdict: 'not measurable',
    text: 'Not judged.',
  }));
  return (judged.length > 0 ? judged : unjudged)
    .slice(0, MOST_PROBES)
    .map(({ at, ...said }) => ({ region: regionAt(at, before), ...said }));
}

function regionAt({ x, y }: { x: number; y: number }, { width, height }: { width: number; height: number }): Region {
  const across = Math.min(CROP.width, width);
  const down = Math.min(CROP.height, height);
  const within = (at: number, own: number, most: number) => Math.max(0, Math.min(most - own, Math.round(at - own / 2)));
  return { x: within(x, across, width), y: within(y, down, height), width: across, height: down };
}

function aboutTheCopy({ prescription, wishes }: Proved, before: DecodedPicture, after: DecodedPicture) {
  const fit = fitFor(prescription, before);
  const likeness = (prescription.likeness ?? []).map((kept) => ({
    term: 'Likeness',
    text: `${kept.face}, ${kept.part}: ${likenessSentence(kept)}`,
  }));
  const print = fit?.prints[0];
  return [
    ...likeness,
    { term: 'Size', text: finishedSizeWords(prescription, before) },
    {
      term: 'Colour',
      text: `${after.space.description}${wishes.colour === 'as-original' ? ', as the original' : ''}, ${after.bits} bits`,
    },
    ...(print
      ? [
          {
            term: 'Fit for',
            text: `a print of up to ${Math.round(print.widthMm / 10)} × ${Math.round(print.heightMm / 10)} cm seen from ${print.distanceMm / 10} cm`,
          },
        ]
      : []),
  ];
}

async function sha256(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}

interface Shown {
  readonly png: Buffer;
  readonly width: number;
  readonly height: number;
}

const asPng = async (linear: Parameters<typeof srgbPixels>[0]): Promise<Shown> => {
  const { pixels, width, height, channels } = srgbPixels(linear);
  const png = await sharp(pixels, { raw: { width, height, channels: channels as 1 | 3 } })
    .png()
    .toBuffer();
  return { png, width, height };
};

const wholeOf = (picture: DecodedPicture) => asPng(smallOf(picture, WHOLE_SIDE));

function cropOf(picture: DecodedPicture, region: Region) {
  const piece = pieceOf(picture, region);
  return asPng(asLinearSrgb(decodePiece(piece, region, picture.space), picture.space));
}

/** Writes down the page, from top to bottom. */
function pen(painter: Painter) {
  let y = MARGIN;
  const lines = (text: string, font: FontName, size: number, x: number, most: number, colour: string) => {
    for (const line of wrapped(text, font, size, most)) {
      y += size * 1.25;
      painter.text(x, y, line, font, size, colour);
    }
  };
  return {
    say: (text: string, font: FontName, size: number, colour: string) => {
      lines(text, font, size, MARGIN, WIDTH, colour);
      y += 3;
    },
    rule() {
      y += 5;
      painter.line(MARGIN, y, MARGIN + WIDTH, y, RULE);
      y += 5;
    },
    /** Two pictures beside each other, fitted into half the page each; enlarged by whole px where `isCrop`. */
    pair(left: Shown, right: Shown, most: number, isCrop = false) {
      const half = (WIDTH - 12) / 2;
      const fitted = (shown: Shown) => Math.min(half / shown.width, most / shown.height);
      const high = [left, right].map((shown, i) => {
        const scale = fitted(shown);
        painter.image(shown.png, MARGIN + i * (half + 12), y + 4, shown.width * scale, shown.height * scale);
        return shown.height * scale;
      });
      y += Math.max(...high) + (isCrop ? 6 : 10);
    },
    judged(verdict: MarkKind, text: string) {
      painter.mark(verdict, MARGIN, y + 3.5, 7);
      const word = printable(`${verdict}: `);
      painter.text(MARGIN + 12, y + 10, word, 'strong', 8.5, INK);
      const after = MARGIN + 12 + widthOf(word, 'strong', 8.5);
      y -= 0.6;
      lines(text, 'words', 8.5, after, WIDTH - (after - MARGIN), INK);
      y += 4;
    },
    told(term: string, text: string, font: FontName = 'words') {
      const top = y;
      lines(text, font, 8.5, MARGIN + 86, WIDTH - 86, INK);
      painter.text(MARGIN, top + 8.5 * 1.25, printable(term), 'strong', 8.5, SOFT_INK);
      y += 2;
    },
  };
}
