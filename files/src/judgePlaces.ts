import {
  atFullAmount,
  auditPlaces,
  boundsOfMask,
  decodePiece,
  drawMask,
  filledPlane,
  lumaOf,
  readingWindow,
  regionNeeded,
  richestPieces,
  strongestSafe,
  wholeOf,
  worstFigure,
  type Prescription,
  type Region,
  type SafetyLimit,
  type StageEffort,
  type WorstFigure,
} from '@vitrocept/core';
import { spaceOfSamples } from './keptFacts';
import { readCodes, type SampleFile } from './sampleFile';

/** Places at which the audit is asked, and their side, px. */
const PLACES = 4;
const PLACE_PX = 192;
/** The richest places are looked for in so many px of what the mask holds. */
const MOST_PX = 4e6;
const COVERAGE_SIDE = 400;

/** What the audit says of a recovery at the places richest in edges under its mask. */
export interface Judgement {
  /** The strongest safe amount; null where it was not asked for. */
  readonly amount: number | null;
  readonly limit: SafetyLimit | null;
  readonly worst: WorstFigure | null;
  /** The first of the places, px of the frame; null where there is none. */
  readonly place: Region | null;
}

/**
 * Judges the recovery of a prescription on decoded samples.
 *
 * @param findsAmount - Looks for the strongest safe amount; else what is prescribed is judged.
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export async function judgePlaces(
  file: SampleFile,
  prescription: Prescription,
  findsAmount: boolean,
  effort: StageEffort,
): Promise<Judgement> {
  const source = { frame: file, space: await spaceOfSamples(file) };
  const plan = findsAmount ? atFullAmount(prescription) : prescription;
  const tiles = await richestUnder(file, prescription);
  const places = await Promise.all(
    tiles.map(async (tile) => ({ tile, piece: await readCodes(file, regionNeeded(source, plan, tile, effort)) })),
  );
  const place = tiles[0] ?? null;
  if (!findsAmount) {
    const worst = worstFigure(auditPlaces(source, plan, places, file.bits, effort));
    return { amount: null, limit: null, worst, place };
  }
  const { amount, limit, figures } = strongestSafe(source, plan, places, file.bits, effort);
  return { amount, limit, worst: worstFigure(figures), place };
}

/** The places richest in edges under the mask at work, px of the frame. */
export async function richestUnder(file: SampleFile, { mask }: Prescription): Promise<Region[]> {
  const operations = mask.operations.length > 0 ? mask.operations : null;
  const wanted = operations ? (boundsOfMask(operations, file) ?? wholeOf(file)) : wholeOf(file);
  const scale = Math.min(1, COVERAGE_SIDE / Math.max(wanted.width, wanted.height));
  const area = readingWindow(wanted, operations && drawMask(operations, wanted, scale), MOST_PX);
  const piece = await readCodes(file, area);
  const { region } = piece;
  const space = await spaceOfSamples(file);
  const luma = lumaOf(decodePiece(piece, region, space), space.lumaWeights);
  const use = operations ? drawMask(operations, region) : filledPlane(region.width, region.height, 1);
  return richestPieces(luma, use, PLACES, PLACE_PX).map((tile) => ({
    ...tile,
    x: tile.x + region.x,
    y: tile.y + region.y,
  }));
}
