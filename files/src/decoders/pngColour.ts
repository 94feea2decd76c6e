import { primariesToXyzD50, writeIccProfile, type Primaries } from '@vitrocept/core';
import { FileError } from '../fileError';

const D65 = { x: 0.3127, y: 0.329 };
/** ITU-T H.273 (2021), table 2. */
const PRIMARIES: Readonly<Record<number, Primaries>> = {
  1: { red: { x: 0.64, y: 0.33 }, green: { x: 0.3, y: 0.6 }, blue: { x: 0.15, y: 0.06 }, white: D65 },
  9: { red: { x: 0.708, y: 0.292 }, green: { x: 0.17, y: 0.797 }, blue: { x: 0.131, y: 0.046 }, white: D65 },
  12: { red: { x: 0.68, y: 0.32 }, green: { x: 0.265, y: 0.69 }, blue: { x: 0.15, y: 0.06 }, white: D65 },
};
/** Of ITU-R BT.709, turned round: what a camera of it saw. */
const BT709 = [1 / 0.45, 1 / 1.099, 0.099 / 1.099, 1 / 4.5, 0.081];
/** ITU-T H.273 (2021), table 3, as parametric curves; 16 and 18, for brighter screens than paper, are not read. */
const TRANSFERS: Readonly<Record<number, readonly number[]>> = {
  1: BT709,
  4: [2.2],
  5: [2.8],
  6: BT709,
  8: [1],
  13: [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045],
  14: BT709,
  15: BT709,
};
const USUAL = 1;
const SRGB_TRANSFER = 13;
/** γ × 100000 of pictures made for the sRGB curve or for a gamma of 1.8 to 2.4, which are taken as sRGB. */
const USUAL_GAMMA = { least: 41_000, most: 56_000 };

/**
 * The profile that a PNG's own chunks amount to; undefined: its embedded profile, or sRGB.
 * Source: W3C PNG (third edition), 11.3.2, in its order: cICP, iCCP, sRGB, gAMA with cHRM.
 *
 * @throws FileError PNG_COLOUR where they mean what is not read.
 */
export function pngProfile(chunks: ReadonlyMap<string, Buffer>): Buffer | undefined {
  const cicp = chunks.get('cICP');
  if (cicp && cicp.length >= 4) {
    const [primaries, transfer, matrix, isFull] = cicp;
    if (primaries === USUAL && transfer === SRGB_TRANSFER && matrix === 0) return undefined;
    const [own, curve] = [PRIMARIES[primaries], TRANSFERS[transfer]];
    if (!own || !curve || matrix !== 0 || isFull !== 1) {
      throw new FileError(
        'PNG_COLOUR',
        `The PNG’s colours are coded by cICP ${primaries}/${transfer}, which is not read. Save it in sRGB or with a profile.`,
      );
    }
    return profile(`PNG, cICP ${primaries}/${transfer}`, own, curve);
  }
  const gamma = chunks.get('gAMA');
  if (chunks.has('iCCP') || chunks.has('sRGB') || !gamma || gamma.length < 4) return undefined;
  const value = gamma.readUInt32BE(0);
  const own = chromaticities(chunks.get('cHRM'));
  if (!own && value >= USUAL_GAMMA.least && value <= USUAL_GAMMA.most) return undefined;
  if (value < LEAST_GAMMA || value > MOST_GAMMA) {
    throw new FileError('PNG_COLOUR', `The PNG says a gamma of ${(value / 1e5).toFixed(2)}, which no picture has.`);
  }
  return profile(`PNG, gamma ${(value / 1e5).toFixed(3)}`, own ?? PRIMARIES[USUAL], [1e5 / value]);
}

const LEAST_GAMMA = 20_000;
const MOST_GAMMA = 120_000;

const profile = (description: string, own: Primaries, curve: readonly number[]): Buffer =>
  Buffer.from(writeIccProfile({ description, toXyzD50: primariesToXyzD50(own), curve }));

/** White, red, green, blue, each x and y × 100000; those of sRGB or nonsense are left out. */
function chromaticities(chunk: Buffer | undefined): Primaries | null {
  if (!chunk || chunk.length < 32) return null;
  const at = (i: number) => ({ x: chunk.readUInt32BE(8 * i) / 1e5, y: chunk.readUInt32BE(8 * i + 4) / 1e5 });
  const own = { white: at(0), red: at(1), green: at(2), blue: at(3) };
  const usual = PRIMARIES[USUAL];
  const isUsual = (['white', 'red', 'green', 'blue'] as const).every(
    (name) => Math.abs(own[name].x - usual[name].x) < 0.002 && Math.abs(own[name].y - usual[name].y) < 0.002,
  );
  const isSense = Object.values(own).every(({ x, y }) => y > 1e-4 && x + y <= 1.0001);
  return isUsual || !isSense ? null : own;
}
