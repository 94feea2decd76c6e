import { symbol, symbolCircle, symbolDiamond, symbolTriangle, type SymbolType } from 'd3-shape';
import type { Pile } from '@vitrocept/core';

/** Two strokes: nothing to be done. */
const cross: SymbolType = {
  draw(context, size) {
    const r = Math.sqrt(size) / 2;
    context.moveTo(-r, -r);
    context.lineTo(r, r);
    context.moveTo(-r, r);
    context.lineTo(r, -r);
  },
};

const TYPES: Record<Pile, SymbolType> = {
  'good-as-is': symbolCircle,
  grainy: symbolTriangle,
  soft: symbolDiamond,
  'beyond-recovery': cross,
};
const AREA = 44;

/** Outline of a pile's mark around 0, 0. */
export const markPath = (pile: Pile, area = AREA): string => symbol(TYPES[pile], area)() ?? '';

/** The mark of a pile as it stands in the chart. */
export function PileMark({ pile }: { pile: Pile }) {
  return (
    <svg width={14} height={14} viewBox="-7 -7 14 14" aria-hidden className={`pile-mark of-${pile}`}>
      <path d={markPath(pile)} />
    </svg>
  );
}
