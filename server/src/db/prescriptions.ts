import type { Database } from 'better-sqlite3';
import { deflateRawSync, inflateRawSync } from 'node:zlib';
import { checkPrescription, emptyPrescription, isRecovered, type Prescription } from '@vitrocept/core';

export interface SavedPrescription {
  /** Rises by one with each save; 0 before the first. */
  readonly revision: number;
  readonly prescription: Prescription;
}

interface Row {
  readonly revision: number;
  readonly body: string;
  readonly packed: Buffer | null;
}

/** Longer bodies are packed: painted masks become a fifth. */
const PACKED_FROM_CHARS = 4000;

export function prescriptionStore(db: Database) {
  const one = db.prepare<[string], Row>('SELECT revision, body, packed FROM prescription WHERE frame_id = ?');
  const revision = db.prepare<[string], { revision: number }>('SELECT revision FROM prescription WHERE frame_id = ?');
  const choice = db.prepare<[string], { chosen: number }>(
    'SELECT has_choice AS chosen FROM prescription WHERE frame_id = ?',
  );
  const put = db.prepare(
    `INSERT INTO prescription (frame_id, revision, body, packed, has_choice, saved_at) VALUES (?, ?, ?, ?, ?, ?)
     ON CONFLICT (frame_id) DO UPDATE SET revision = excluded.revision, body = excluded.body, packed = excluded.packed,
       has_choice = excluded.has_choice, saved_at = excluded.saved_at`,
  );
  const saveOnTop = db.transaction((frameId: string, on: number, prescription: Prescription) => {
    if ((revision.get(frameId)?.revision ?? 0) !== on) return null;
    const text = JSON.stringify(prescription);
    const isPacked = text.length > PACKED_FROM_CHARS;
    const packed = isPacked ? deflateRawSync(text, { level: 3 }) : null;
    const hasChoice = isRecovered(prescription) ? 1 : 0;
    put.run(frameId, on + 1, isPacked ? '' : text, packed, hasChoice, new Date().toISOString());
    return { revision: on + 1, prescription };
  });
  return {
    get(frameId: string): SavedPrescription {
      const row = one.get(frameId);
      if (!row) return { revision: 0, prescription: emptyPrescription() };
      const text = row.packed ? inflateRawSync(row.packed).toString('utf8') : row.body;
      return { revision: row.revision, prescription: checkPrescription(JSON.parse(text)) };
    },
    /** Whether something is cleaned or recovered, without reading all of it. */
    hasChoice: (frameId: string) => choice.get(frameId)?.chosen === 1,
    /** Saves on top of a revision; null where somebody else has saved since. */
    save: (frameId: string, on: number, prescription: Prescription): SavedPrescription | null =>
      saveOnTop(frameId, on, prescription),
  };
}
