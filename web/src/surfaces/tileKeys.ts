import {
  CHECK_MARGIN,
  DRAFT_TILE_PX,
  grow,
  intersect,
  isEmpty,
  isUntouched,
  keyOfPixels,
  prescriptionNear,
  reachOfPrescription,
  TILE_PX,
  tilesTouching,
  wholeOf,
  contentKey,
  type Prescription,
  type Region,
} from '@vitrocept/core';
import type { JobVersion, WantedTile, WorkerFrame } from '@vitrocept/workers';

export interface Layered {
  readonly tile: Region;
  readonly key: string;
  readonly want: WantedTile;
}

/** What a prescription does to one tile, and its key: equal keys, equal pixels. */
interface TilePlan {
  readonly prescription: Prescription;
  readonly key: string;
}

const readingKeys = new WeakMap<object, string>();

function readingKey(reading: Prescription['reading']): string {
  if (!reading) return 'unread';
  const known = readingKeys.get(reading) ?? contentKey(reading);
  readingKeys.set(reading, known);
  return known;
}

const plans = new WeakMap<Prescription, Map<string, TilePlan>>();

/** Only what changes the tile's pixels goes into the key: a dab elsewhere or another name redraws nothing. */
function planOf(prescription: Prescription, tile: Region): TilePlan {
  if (isUntouched(prescription)) return { prescription, key: 'original' };
  const place = `${tile.x} ${tile.y} ${tile.width} ${tile.height}`;
  const known = plans.get(prescription) ?? new Map<string, TilePlan>();
  plans.set(prescription, known);
  const found = known.get(place);
  if (found) return found;
  const around = grow(tile, reachOfPrescription(prescription) + CHECK_MARGIN);
  const near = prescriptionNear(prescription, around);
  const plan = { prescription: near, key: keyOfPixels(near) };
  known.set(place, plan);
  return plan;
}

/** What a column shows: a prescription's result, an outside version laid onto the frame, or what cleaning removed. */
export type Column = Prescription & { readonly outside?: JobVersion; readonly shows?: 'removed' };

/** The tiles that `region` touches, as a column shows them. */
export function layer(
  frame: WorkerFrame,
  prescription: Column,
  region: Region,
  effort: 'draft' | 'final',
  rank: number,
): Layered[] {
  return tilesOf(region, frame, effort).map((tile) => {
    const { outside: version, shows } = prescription;
    if (version) {
      const { reading } = prescription;
      const key = `${frame.id} version ${version.id} ${readingKey(reading)} ${tile.x} ${tile.y} ${effort}`;
      const job = { frame, prescription, tile, effort, audits: true, version };
      return { tile, key, want: { key, rank, job } };
    }
    const plan = planOf(prescription, tile);
    const key = `${frame.id} ${plan.key} ${shows ?? effort} ${tile.x} ${tile.y} ${tile.width} ${tile.height}`;
    const audits = effort === 'final' && prescription.recovery !== null;
    const job = { frame, prescription: plan.prescription, tile, effort, audits, shows };
    return { tile, key, want: { key, rank, job } };
  });
}

/** A draft is made for just what a cell shows; a whole subject seen from afar is drafted piece by piece. */
function tilesOf(region: Region, frame: WorkerFrame, effort: 'draft' | 'final'): Region[] {
  if (effort === 'final') return tilesTouching(region, frame, TILE_PX);
  const inside = intersect(region, wholeOf(frame));
  const isSmall = inside.width * inside.height <= MOST_DRAFT_PX;
  return isSmall && !isEmpty(inside) ? [inside] : tilesTouching(region, frame, DRAFT_TILE_PX);
}

const MOST_DRAFT_PX = 320 * 320;
