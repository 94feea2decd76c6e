import { figuresOver, type Figures, type Place } from '../audit/figures';
import { worstOf, type Verdict } from '../audit/limits';
import type { CodePiece } from '../picture/picture';
import type { Region } from '../picture/region';
import { recoveredOnly } from '../prescription/masks';
import type { Prescription } from '../prescription/prescription';
import { auditTile } from './auditTile';
import { passThrough } from './pipeline';
import { atAmount } from './solvedTile';
import type { RenderSource, StageEffort } from './stage';

/** What would be the first to go beyond *safe* if more were taken. */
export interface SafetyLimit {
  readonly figure: 'halo' | 'ringing' | 'unproven' | 'colour' | 'grain' | 'leak';
  /** The amount at which it is no longer safe, 0..100. */
  readonly atAmount: number;
  /** px of the frame. */
  readonly place: Place | null;
}

export interface StrongestSafe {
  /** 0..100. */
  readonly amount: number;
  /** Null: nothing is beyond safe at full amount. */
  readonly limit: SafetyLimit | null;
  /** What the audit says of each place at that amount; none where nothing is safe. */
  readonly figures: readonly Figures[];
}

/** A region of at most some 256 px under the mask, with the part of `regionNeeded` that lies in the frame. */
export interface JudgedPlace {
  readonly tile: Region;
  readonly piece: CodePiece;
}

/** The same with all of the recovery at work taken. */
export function atFullAmount(prescription: Prescription): Prescription {
  const { recovery } = prescription;
  return recovery ? { ...prescription, recovery: { ...recovery, amount: { value: 100, auto: false } } } : prescription;
}

const HALVINGS = 5;
const FIGURES: readonly SafetyLimit['figure'][] = ['halo', 'ringing', 'unproven', 'colour', 'grain', 'leak'];

/**
 * The largest amount of the recovery at work at which the audit finds nothing beyond *safe* in any of the tiles. Each
 * tile is solved once: another amount only mixes the answer with the photograph. Unproven detail is judged at full
 * strength whatever the amount: where it wants a look it is told and limits nothing, where it is damaged nothing is
 * safe.
 *
 * @param full - Of `atFullAmount`.
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function strongestSafe(
  source: RenderSource,
  full: Prescription,
  tiles: readonly JudgedPlace[],
  bits: 8 | 16,
  effort: StageEffort,
): StrongestSafe {
  const solved = solvedPlaces(source, full, tiles, effort);
  const judge = (amount: number) => {
    const figures: Figures[] = [];
    for (const { tile, piece, answer } of solved) {
      const audit = auditTile(source, full, piece, tile, atAmount(answer, amount), bits, effort);
      figures.push(figuresOver([audit], tile));
      const limit = beyondSafe(figures.at(-1)!, amount);
      if (limit) return { limit, figures };
    }
    return { limit: null, figures };
  };
  let best = { amount: 0, figures: [] as readonly Figures[] };
  const whole = judge(100);
  if (!whole.limit) return { amount: 100, ...whole };
  let limit = whole.limit;
  let unsafe = 100;
  for (let i = 0; i < HALVINGS; i++) {
    const amount = Math.round((best.amount + unsafe) / 2);
    const found = judge(amount);
    if (found.limit) [unsafe, limit] = [amount, found.limit];
    else best = { amount, figures: found.figures };
  }
  return { ...best, limit };
}

/** What the audit says of the recovery at work at each place, as it stands. */
export function auditPlaces(
  source: RenderSource,
  prescription: Prescription,
  tiles: readonly JudgedPlace[],
  bits: 8 | 16,
  effort: StageEffort,
): Figures[] {
  return solvedPlaces(source, prescription, tiles, effort).map(({ tile, piece, answer }) =>
    figuresOver([auditTile(source, prescription, piece, tile, answer, bits, effort)], tile),
  );
}

/** Each place solved once; those that the recovery at work does not reach are left out. */
function solvedPlaces(
  source: RenderSource,
  prescription: Prescription,
  tiles: readonly JudgedPlace[],
  effort: StageEffort,
) {
  // Light and finishing come after what is judged, and may need what only a render has at hand.
  const own = recoveredOnly(prescription);
  return tiles.flatMap(({ tile, piece }) => {
    const answer = passThrough(source, own, piece, tile, effort)?.solved;
    return answer?.layers.some(({ isAtWork }) => isAtWork) ? [{ tile, piece, answer }] : [];
  });
}

/** The worst figure of several places; null where nothing was judged. */
export function worstFigure(places: readonly Figures[]): WorstFigure | null {
  const all = places.flatMap((figures) =>
    FIGURES.map((figure) => ({
      figure,
      verdict: figures[figure].verdict,
      value: figures[figure].value,
      place: figures[figure].at,
    })),
  );
  const judged = all.filter(({ verdict }) => verdict !== 'not measurable');
  if (judged.length === 0) return null;
  const worst = worstOf(judged.map(({ verdict }) => verdict));
  return judged.find(({ verdict }) => verdict === worst)!;
}

export interface WorstFigure {
  readonly figure: SafetyLimit['figure'];
  readonly verdict: Verdict;
  readonly value: number;
  readonly place: Place | null;
}

function beyondSafe(figures: Figures, amount: number): SafetyLimit | null {
  const figure = FIGURES.find(
    (name) => figures[name].verdict === 'damaged' || (figures[name].verdict === 'check' && name !== 'unproven'),
  );
  return figure ? { figure, atAmount: amount, place: figures[figure].at } : null;
}
