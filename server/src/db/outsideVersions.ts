import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import type { Alignment } from '@vitrocept/core';

export interface OutsideVersion {
  readonly id: string;
  readonly frameId: string;
  readonly name: string;
  readonly sha256: string;
  /** Of the file, px. */
  readonly width: number;
  readonly height: number;
  readonly alignment: Alignment;
  readonly createdAt: string;
}

type Row = Omit<OutsideVersion, 'alignment'> & { readonly alignment: string };

const COLUMNS = 'id, frame_id AS frameId, name, sha256, width, height, alignment, created_at AS createdAt';

export function outsideVersionStore(db: Database) {
  const ofFrame = db.prepare<[string], Row>(
    `SELECT ${COLUMNS} FROM outside_version WHERE frame_id = ? AND removed_at IS NULL ORDER BY rowid`,
  );
  const one = db.prepare<[string], Row>(`SELECT ${COLUMNS} FROM outside_version WHERE id = ?`);
  const insert = db.prepare(
    'INSERT INTO outside_version (id, frame_id, name, sha256, width, height, alignment, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
  );
  const mark = db.prepare('UPDATE outside_version SET removed_at = ? WHERE id = ?');
  const known = db.prepare<[string], { one: number }>('SELECT 1 AS one FROM outside_version WHERE sha256 = ? LIMIT 1');
  const read = (row: Row): OutsideVersion => ({ ...row, alignment: JSON.parse(row.alignment) as Alignment });
  return {
    ofFrame: (frameId: string) => ofFrame.all(frameId).map(read),
    get(id: string): OutsideVersion | null {
      const row = one.get(id);
      return row ? read(row) : null;
    },
    add(version: Omit<OutsideVersion, 'id' | 'createdAt'>): OutsideVersion {
      const id = randomUUID();
      const createdAt = new Date().toISOString();
      const { frameId, name, sha256, width, height, alignment } = version;
      insert.run(id, frameId, name, sha256, width, height, JSON.stringify(alignment), createdAt);
      return { ...version, id, createdAt };
    },
    /** It can be put back; its file stays. */
    remove: (id: string) => void mark.run(new Date().toISOString(), id),
    restore: (id: string) => void mark.run(null, id),
    knowsFile: (sha256: string) => known.get(sha256) !== undefined,
  };
}
