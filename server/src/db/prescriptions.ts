import type { Database } from 'better-sqlite3';
import { checkPrescription, emptyPrescription, type Prescription } from '@vitrocept/core';

export interface SavedPrescription {
  /** Rises by one with each save; 0 before the first. */
  readonly revision: number;
  readonly prescription: Prescription;
}

export function prescriptionStore(db: Database) {
  const one = db.prepare<[string], { revision: number; body: string }>(
    'SELECT revision, body FROM prescription WHERE frame_id = ?',
  );
  const put = db.prepare(
    `INSERT INTO prescription (frame_id, revision, body, saved_at) VALUES (?, ?, ?, ?)
     ON CONFLICT (frame_id) DO UPDATE SET revision = excluded.revision, body = excluded.body, saved_at = excluded.saved_at`,
  );
  const get = (frameId: string): SavedPrescription => {
    const row = one.get(frameId);
    return row
      ? { revision: row.revision, prescription: checkPrescription(JSON.parse(row.body)) }
      : { revision: 0, prescription: emptyPrescription() };
  };
  const saveOnTop = db.transaction((frameId: string, revision: number, prescription: Prescription) => {
    if (get(frameId).revision !== revision) return null;
    put.run(frameId, revision + 1, JSON.stringify(prescription), new Date().toISOString());
    return { revision: revision + 1, prescription };
  });
  return {
    get,
    /** Saves on top of `revision`; null where somebody else has saved since. */
    save: (frameId: string, revision: number, prescription: Prescription): SavedPrescription | null =>
      saveOnTop(frameId, revision, prescription),
  };
}
