import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import type { SaveFormat } from '@vitrocept/core';

/** A watched folder and what is done with the files laid into it. */
export interface HandOff {
  readonly id: string;
  readonly folder: string;
  readonly shootId: string;
  /** Used by itself on every frame that comes in; null: they only come in. */
  readonly keptId: string | null;
  readonly format: SaveFormat;
  readonly quality: number;
  readonly roundId: string | null;
}

export interface HandOffFile {
  readonly id: string;
  readonly name: string;
  readonly frameId: string | null;
  readonly error: string | null;
  readonly cameAt: string;
}

export type HandOffWish = Omit<HandOff, 'id' | 'roundId'>;

const COLUMNS = 'id, folder, shoot_id AS shootId, kept_id AS keptId, format, quality, round_id AS roundId';
const MOST_FILES = 50;

export function handOffStore(db: Database) {
  const all = db.prepare<[], HandOff>(`SELECT ${COLUMNS} FROM hand_off ORDER BY made_at, folder`);
  const one = db.prepare<[string], HandOff>(`SELECT ${COLUMNS} FROM hand_off WHERE id = ?`);
  const insert = db.prepare(
    `INSERT INTO hand_off (id, folder, shoot_id, kept_id, format, quality, made_at)
     VALUES (@id, @folder, @shootId, @keptId, @format, @quality, @madeAt)`,
  );
  // Another way of recovering is another round.
  const change = db.prepare(
    `UPDATE hand_off SET shoot_id = @shootId, kept_id = @keptId, format = @format, quality = @quality, round_id = NULL
     WHERE id = @id`,
  );
  const remove = db.prepare('DELETE FROM hand_off WHERE id = ?');
  const useRound = db.prepare('UPDATE hand_off SET round_id = ? WHERE id = ?');
  const file = db.prepare(
    'INSERT INTO hand_off_file (id, hand_off_id, name, frame_id, error, came_at) VALUES (?, ?, ?, ?, ?, ?)',
  );
  const files = db.prepare<[string], HandOffFile>(
    `SELECT id, name, frame_id AS frameId, error, came_at AS cameAt FROM hand_off_file WHERE hand_off_id = ?
     ORDER BY came_at DESC, rowid DESC LIMIT ${MOST_FILES}`,
  );
  return {
    all: () => all.all(),
    get: (id: string) => one.get(id) ?? null,
    add(wish: HandOffWish): HandOff {
      const id = randomUUID();
      insert.run({ ...wish, id, madeAt: new Date().toISOString() });
      return one.get(id)!;
    },
    change: (id: string, wish: Omit<HandOffWish, 'folder'>) => change.run({ ...wish, id }),
    remove: (id: string) => remove.run(id),
    useRound: (id: string, roundId: string) => useRound.run(roundId, id),
    came: (id: string, name: string, frameId: string) =>
      file.run(randomUUID(), id, name, frameId, null, new Date().toISOString()),
    refused: (id: string, name: string, error: string) =>
      file.run(randomUUID(), id, name, null, error, new Date().toISOString()),
    filesOf: (id: string) => files.all(id),
  };
}
