import { blendOver } from '../picture/arithmetic';
import { copyPlane, createPlane, type Plane } from '../picture/plane';
import type { Region } from '../picture/region';
import type { Recovered } from '../recover/recovery';

/** What one mask does to a tile, over its wide surroundings. */
export interface SolvedLayer {
  readonly isAtWork: boolean;
  /** Mask times opacity. */
  readonly alpha: Plane;
  /** Amount, 0..1. */
  readonly share: number;
  readonly recovered: Recovered;
}

/** A recovered tile before its masks are laid over each other. All planes in linear light. */
export interface SolvedTile {
  /** The tile and what lies around it that the audit looks at; the planes below cover it. */
  readonly wide: Region;
  readonly base: readonly Plane[];
  /** 0..1: how far the base was changed before; null where it was not. */
  readonly cleaned: Plane | null;
  /** The lowest first; masks that do not touch the tile have none. */
  readonly layers: readonly SolvedLayer[];
}

/** The same tile at another Amount of the mask at work: its answer needs not be found again. */
export function atAmount(solved: SolvedTile, amount: number): SolvedTile {
  const layers = solved.layers.map((layer) => (layer.isAtWork ? { ...layer, share: amount / 100 } : layer));
  return { ...solved, layers };
}

/**
 * What is published: each mask's answer over the base as far as its amount says, and over what lies below as far as the
 * mask says. So the answer under mask i counts αᵢ·Π(1 − αⱼ) over all masks j above.
 */
export function shownOf(solved: SolvedTile): readonly Plane[] {
  const known = shownTiles.get(solved);
  if (known) return known;
  const { base, layers } = solved;
  const shown = base.map((own, c) =>
    layers.reduce(
      (below, { alpha, share, recovered }) => blendOver(below, own, recovered.answer[c], alpha, share),
      own,
    ),
  );
  shownTiles.set(solved, shown);
  return shown;
}

/** The audit and the picture want the same. */
const shownTiles = new WeakMap<SolvedTile, readonly Plane[]>();

/** 1 − Π(1 − α): how far cleaning or any mask reaches. */
export function reachedBy({ wide, cleaned, layers }: SolvedTile): Plane {
  if (!cleaned && layers.length === 1) return layers[0].alpha;
  const out = cleaned ? copyPlane(cleaned) : createPlane(wide.width, wide.height);
  for (const { alpha } of layers) {
    for (let i = 0; i < out.data.length; i++) out.data[i] = 1 - (1 - out.data[i]) * (1 - alpha.data[i]);
  }
  return out;
}

/** How far the mask at work shows through those above it. */
export function seenAtWork({ layers }: SolvedTile): Plane | null {
  const at = layers.findIndex((layer) => layer.isAtWork);
  if (at < 0) return null;
  return layers
    .slice(at + 1)
    .reduce(
      (seen, { alpha }) => ({ ...seen, data: seen.data.map((value, i) => value * (1 - alpha.data[i])) }),
      layers[at].alpha,
    );
}
