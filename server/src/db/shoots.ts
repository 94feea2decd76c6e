import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';

export interface Shoot {
  readonly id: string;
  readonly name: string;
  readonly createdAt: string;
}

const COLUMNS = 'id, name, created_at AS createdAt';

export function shootStore(db: Database) {
  const all = db.prepare<[], Shoot>(`SELECT ${COLUMNS} FROM shoot ORDER BY created_at, name`);
  const one = db.prepare<[string], Shoot>(`SELECT ${COLUMNS} FROM shoot WHERE id = ?`);
  const insert = db.prepare('INSERT INTO shoot (id, name, created_at) VALUES (?, ?, ?)');
  return {
    all: () => all.all(),
    get: (id: string) => one.get(id) ?? null,
    add(name: string): Shoot {
      const shoot = { id: randomUUID(), name, createdAt: new Date().toISOString() };
      insert.run(shoot.id, shoot.name, shoot.createdAt);
      return shoot;
    },
  };
}
