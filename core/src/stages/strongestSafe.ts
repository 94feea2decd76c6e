import { figuresOver, type Figures, type Place } from '../audit/figures';
import type { CodePiece } from '../picture/picture';
import type { Region } from '../picture/region';
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
}

/** The same with all of the recovery at work taken. */
export function atFullAmount(prescription: Prescription): Prescription {
  const { recovery } = prescription;
  return recovery ? { ...prescription, recovery: { ...recovery, amount: { value: 100, auto: false } } } : prescription;
}

const HALVINGS = 5;
const FIGURES: readonly SafetyLimit['figure'][] = ['halo', 'ringing', 'unproven', 'colour', 'grain', 'leak'];

/**
 * The largest amount of the recovery at work at which the audit finds nothing beyond *safe* in any of the tiles. Each tile
 * is solved once: another amount only mixes the answer with the photograph.
 *
 * @param full - Of `atFullAmount`.
 * @param tiles - Regions of at most some 256 px under the mask, each with the part of `regionNeeded` that lies in the frame.
 * @throws CoreError STOPPED when effort.shouldStop says so.
 */
export function strongestSafe(
  source: RenderSource,
  full: Prescription,
  tiles: readonly { readonly tile: Region; readonly piece: CodePiece }[],
  bits: 8 | 16,
  effort: StageEffort,
): StrongestSafe {
  const solved = tiles.flatMap(({ tile, piece }) => {
    const answer = passThrough(source, full, piece, tile, effort)?.solved;
    return answer?.layers.some(({ isAtWork }) => isAtWork) ? [{ tile, piece, answer }] : [];
  });
  const judge = (amount: number) => {
    for (const { tile, piece, answer } of solved) {
      const audit = auditTile(source, full, piece, tile, atAmount(answer, amount), bits, effort);
      const limit = beyondSafe(figuresOver([audit], tile), amount);
      if (limit) return limit;
    }
    return null;
  };
  let limit = judge(100);
  if (!limit) return { amount: 100, limit: null };
  let [safe, unsafe] = [0, 100];
  for (let i = 0; i < HALVINGS; i++) {
    const amount = Math.round((safe + unsafe) / 2);
    const found = judge(amount);
    if (found) [unsafe, limit] = [amount, found];
    else safe = amount;
  }
  return { amount: safe, limit };
}

function beyondSafe(figures: Figures, amount: number): SafetyLimit | null {
  const figure = FIGURES.find((name) => figures[name].verdict === 'check' || figures[name].verdict === 'damaged');
  return figure ? { figure, atAmount: amount, place: figures[figure].at } : null;
}
