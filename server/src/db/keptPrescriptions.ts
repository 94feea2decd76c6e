import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import { checkKept, keptSentence, type KeptPrescription } from '@vitrocept/core';

/** A kept prescription as it is listed. */
export interface ListedKept {
  readonly id: string;
  readonly kept: KeptPrescription;
  readonly sentence: string;
}

interface Row {
  readonly id: string;
  readonly name: string;
  readonly body: string;
}

/** The name stands in a column of its own and wins over the one in the body. */
function listed({ id, name, body }: Row): ListedKept {
  const kept = { ...checkKept(JSON.parse(body)), name };
  return { id, kept, sentence: keptSentence(kept) };
}

export function keptPrescriptionStore(db: Database) {
  const all = db.prepare<[], Row>(
    'SELECT id, name, body FROM kept_prescription WHERE removed_at IS NULL ORDER BY made_at, rowid',
  );
  const one = db.prepare<[string], Row>('SELECT id, name, body FROM kept_prescription WHERE id = ?');
  const insert = db.prepare('INSERT INTO kept_prescription (id, name, body, made_at) VALUES (?, ?, ?, ?)');
  const rename = db.prepare('UPDATE kept_prescription SET name = ? WHERE id = ?');
  const remove = db.prepare('UPDATE kept_prescription SET removed_at = ? WHERE id = ?');
  return {
    all: () => all.all().map(listed),
    get(id: string): ListedKept | null {
      const row = one.get(id);
      return row ? listed(row) : null;
    },
    add(kept: KeptPrescription): ListedKept {
      const id = randomUUID();
      insert.run(id, kept.name, JSON.stringify(kept), new Date().toISOString());
      return listed(one.get(id)!);
    },
    rename: (id: string, name: string) => void rename.run(name, id),
    remove: (id: string) => void remove.run(new Date().toISOString(), id),
    /** Back from being removed. */
    restore: (id: string) => void remove.run(null, id),
  };
}
