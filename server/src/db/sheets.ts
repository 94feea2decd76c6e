import type { Database } from 'better-sqlite3';
import type { Pile, SortedAs } from '@vitrocept/core';
import type { Exposure } from '@vitrocept/files';
import type { Frame } from './frames';
import type { FirstReading } from './readings';

/** A frame as a sheet of thousands shows it. */
export interface SheetFrame extends Pick<Frame, 'id' | 'name' | 'format' | 'width' | 'height' | 'pileByHand'> {
  readonly exposure: Exposure;
  readonly state: FirstReading['state'];
  readonly error: string | null;
  readonly sortedAs: SortedAs | null;
  readonly hasChoice: boolean;
  /** Names of other shoots that hold the very same file. */
  readonly alsoIn: readonly string[];
}

interface Row extends Omit<SheetFrame, 'exposure' | 'sortedAs' | 'hasChoice' | 'alsoIn'> {
  readonly exposure: string;
  readonly sortedAs: string | null;
  readonly hasChoice: 0 | 1;
  readonly alsoIn: string;
}

export type PileCounts = Readonly<Record<Pile | 'unread', number>>;

const LIVING = 'o.removed_at IS NULL AND s.removed_at IS NULL';

/** What is shown of whole shoots, each asked for at once. */
export function sheetStore(db: Database) {
  const frames = db.prepare<[string], Row>(
    `SELECT f.id, f.name, f.format, f.width, f.height, f.exposure, f.pile_by_hand AS pileByHand,
       coalesce(r.state, 'waiting') AS state, r.error, r.sorted_as AS sortedAs,
       coalesce(p.has_choice, 0) AS hasChoice,
       (SELECT json_group_array(DISTINCT s.name) FROM frame o JOIN shoot s ON s.id = o.shoot_id
        WHERE o.sha256 = f.sha256 AND o.shoot_id <> f.shoot_id AND ${LIVING}) AS alsoIn
     FROM frame f LEFT JOIN reading r ON r.frame_id = f.id LEFT JOIN prescription p ON p.frame_id = f.id
     WHERE f.shoot_id = ? AND f.removed_at IS NULL ORDER BY f.name, f.added_at`,
  );
  const piles = db.prepare<[string], { pile: Pile | 'unread'; count: number }>(
    `SELECT coalesce(f.pile_by_hand, json_extract(r.sorted_as, '$.pile'), 'unread') AS pile, count(*) AS count
     FROM frame f LEFT JOIN reading r ON r.frame_id = f.id
     WHERE f.shoot_id = ? AND f.removed_at IS NULL GROUP BY 1`,
  );
  const covers = db.prepare<[number, string], { id: string }>(
    `SELECT id FROM (SELECT id, ntile(?) OVER (ORDER BY name, added_at) AS part FROM frame
       WHERE shoot_id = ? AND removed_at IS NULL) GROUP BY part ORDER BY part`,
  );
  return {
    framesOf: (shootId: string): SheetFrame[] =>
      frames.all(shootId).map(({ exposure, sortedAs, hasChoice, alsoIn, ...row }) => ({
        ...row,
        exposure: JSON.parse(exposure) as Exposure,
        sortedAs: JSON.parse(sortedAs ?? 'null') as SortedAs | null,
        hasChoice: hasChoice === 1,
        alsoIn: JSON.parse(alsoIn) as string[],
      })),
    pilesOf(shootId: string): PileCounts {
      const counts = { 'good-as-is': 0, grainy: 0, soft: 0, 'beyond-recovery': 0, unread: 0 };
      for (const { pile, count } of piles.all(shootId)) counts[pile] = count;
      return counts;
    },
    /** So many frames at most, evenly from all. */
    coversOf: (shootId: string, most: number) => covers.all(most, shootId).map(({ id }) => id),
  };
}
