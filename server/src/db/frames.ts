import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
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
}

type Row = Omit<Frame, 'exposure'> & { readonly exposure: string };

const COLUMNS = 'id, shoot_id AS shootId, name, sha256, format, width, height, channels, bits, profile, exposure';
const frameOf = (row: Row): Frame => ({ ...row, exposure: JSON.parse(row.exposure) as Exposure });

export function frameStore(db: Database) {
  const one = db.prepare<[string], Row>(`SELECT ${COLUMNS} FROM frame WHERE id = ?`);
  const inShoot = db.prepare<[string], Row>(`SELECT ${COLUMNS} FROM frame WHERE shoot_id = ? ORDER BY name, added_at`);
  const twin = db.prepare<[string, string], Row>(`SELECT ${COLUMNS} FROM frame WHERE shoot_id = ? AND sha256 = ?`);
  const known = db.prepare<[string], { one: number }>('SELECT 1 AS one FROM frame WHERE sha256 = ? LIMIT 1');
  const insert = db.prepare(
    `INSERT INTO frame (id, shoot_id, name, sha256, format, width, height, channels, bits, profile, exposure, added_at)
     VALUES (@id, @shootId, @name, @sha256, @format, @width, @height, @channels, @bits, @profile, @exposure, @addedAt)`,
  );
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
    add(frame: Omit<Frame, 'id'>): Frame {
      const added = { ...frame, id: randomUUID() };
      insert.run({ ...added, exposure: JSON.stringify(frame.exposure), addedAt: new Date().toISOString() });
      return added;
    },
  };
}
