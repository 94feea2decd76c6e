import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import type { Pile } from '@vitrocept/core';
import type { Exposure, FileFormat } from '@vitrocept/files';

export interface Frame {
  readonly id: string;
  readonly shootId: string;
  readonly name: string;
  readonly sha256: string;
  readonly format: FileFormat;
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3;
  readonly bits: 8 | 16;
  readonly profile: string;
  readonly exposure: Exposure;
  /** Put there by a person, over the measured one. */
  readonly pileByHand: Pile | null;
  /** Since when it lies in the trash. */
  readonly removedAt: string | null;
}

/** What a person changes of a frame. */
export interface FrameChange {
  readonly id: string;
  readonly name?: string;
  readonly shootId?: string;
  /** Null: the measured one counts. */
  readonly pileByHand?: Pile | null;
  readonly isRemoved?: boolean;
}

type Row = Omit<Frame, 'exposure'> & { readonly exposure: string };

const COLUMNS = `id, shoot_id AS shootId, name, sha256, format, width, height, channels, bits, profile, exposure,
  pile_by_hand AS pileByHand, removed_at AS removedAt`;
const frameOf = (row: Row): Frame => ({ ...row, exposure: JSON.parse(row.exposure) as Exposure });

export function frameStore(db: Database) {
  const one = db.prepare<[string], Row>(`SELECT ${COLUMNS} FROM frame WHERE id = ?`);
  const inShoot = db.prepare<[string], Row>(
    `SELECT ${COLUMNS} FROM frame WHERE shoot_id = ? AND removed_at IS NULL ORDER BY name, added_at`,
  );
  const twin = db.prepare<[string, string], Row>(`SELECT ${COLUMNS} FROM frame WHERE shoot_id = ? AND sha256 = ?`);
  const known = db.prepare<[string], { one: number }>('SELECT 1 AS one FROM frame WHERE sha256 = ? LIMIT 1');
  const insert = db.prepare(
    `INSERT INTO frame (id, shoot_id, name, sha256, format, width, height, channels, bits, profile, exposure, added_at)
     VALUES (@id, @shootId, @name, @sha256, @format, @width, @height, @channels, @bits, @profile, @exposure, @addedAt)`,
  );
  const change = db.prepare(
    `UPDATE frame SET name = @name, shoot_id = @shootId, pile_by_hand = @pileByHand, removed_at = @removedAt WHERE id = @id`,
  );
  const changeAll = db.transaction((changes: readonly FrameChange[]) => {
    const now = new Date().toISOString();
    for (const { id, isRemoved, ...wanted } of changes) {
      const frame = one.get(id)!;
      const removedAt = isRemoved === undefined ? frame.removedAt : isRemoved ? (frame.removedAt ?? now) : null;
      const { name, shootId, pileByHand } = { ...frame, ...wanted };
      change.run({ id, name, shootId, pileByHand, removedAt });
    }
  });
  return {
    get(id: string): Frame | null {
      const row = one.get(id);
      return row ? frameOf(row) : null;
    },
    inShoot: (shootId: string) => inShoot.all(shootId).map(frameOf),
    twinOf(shootId: string, sha256: string): Frame | null {
      const row = twin.get(shootId, sha256);
      return row ? frameOf(row) : null;
    },
    knowsFile: (sha256: string) => known.get(sha256) !== undefined,
    add(frame: Omit<Frame, 'id' | 'pileByHand' | 'removedAt'>): Frame {
      const added = { ...frame, id: randomUUID(), pileByHand: null, removedAt: null };
      insert.run({
        ...frame,
        id: added.id,
        exposure: JSON.stringify(frame.exposure),
        addedAt: new Date().toISOString(),
      });
      return added;
    },
    /** All of them or, where one cannot be, none. Two frames of one file cannot lie in one shoot. */
    change: (changes: readonly FrameChange[]): void => changeAll(changes),
  };
}
