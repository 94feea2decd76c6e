import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';

export interface Shoot {
  readonly id: string;
  readonly name: string;
  readonly createdAt: string;
  /** Since when it lies in the trash, with all its frames. */
  readonly removedAt: string | null;
}

const COLUMNS = 'id, name, created_at AS createdAt, removed_at AS removedAt';

export function shootStore(db: Database) {
  const all = db.prepare<[], Shoot>(`SELECT ${COLUMNS} FROM shoot WHERE removed_at IS NULL ORDER BY created_at, name`);
  const one = db.prepare<[string], Shoot>(`SELECT ${COLUMNS} FROM shoot WHERE id = ?`);
  const insert = db.prepare('INSERT INTO shoot (id, name, created_at) VALUES (?, ?, ?)');
  const rename = db.prepare('UPDATE shoot SET name = ? WHERE id = ?');
  const remove = db.prepare('UPDATE shoot SET removed_at = ? WHERE id = ?');
  return {
    all: () => all.all(),
    get: (id: string) => one.get(id) ?? null,
    add(name: string): Shoot {
      const shoot = { id: randomUUID(), name, createdAt: new Date().toISOString(), removedAt: null };
      insert.run(shoot.id, shoot.name, shoot.createdAt);
      return shoot;
    },
    rename: (id: string, name: string) => rename.run(name, id),
    remove: (id: string) => remove.run(new Date().toISOString(), id),
    restore: (id: string) => remove.run(null, id),
  };
}
