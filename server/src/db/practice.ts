import type { Database } from 'better-sqlite3';
import type { PracticeSpec } from '@vitrocept/core';
import type { PracticeGrade } from '@vitrocept/files';

/** A photograph of the practice camera. */
export interface PracticeCase {
  readonly frameId: string;
  /** Null: a challenge's. */
  readonly spec: PracticeSpec | null;
  readonly challenge: string | null;
  readonly grade: PracticeGrade | null;
}

interface Row {
  readonly frameId: string;
  readonly spec: string;
  readonly challenge: string | null;
  readonly grade: string | null;
}

const caseOf = ({ frameId, spec, challenge, grade }: Row): PracticeCase => ({
  frameId,
  spec: JSON.parse(spec) as PracticeSpec | null,
  challenge,
  grade: grade ? (JSON.parse(grade) as PracticeGrade) : null,
});

export function practiceStore(db: Database) {
  const one = db.prepare<[string], Row>(
    'SELECT frame_id AS frameId, spec, challenge, grade FROM practice_frame WHERE frame_id = ?',
  );
  const insert = db.prepare('INSERT OR IGNORE INTO practice_frame (frame_id, spec, challenge) VALUES (?, ?, ?)');
  const grade = db.prepare(
    'UPDATE practice_frame SET grade = ?, gain = MAX(COALESCE(gain, -1000), ?) WHERE frame_id = ?',
  );
  const best = db.prepare<[], { challenge: string; gain: number }>(
    `SELECT challenge, MAX(gain) AS gain FROM practice_frame
     WHERE challenge IS NOT NULL AND gain IS NOT NULL GROUP BY challenge`,
  );
  return {
    get(frameId: string): PracticeCase | null {
      const row = one.get(frameId);
      return row ? caseOf(row) : null;
    },
    add: (frameId: string, spec: PracticeSpec | null, challenge: string | null) =>
      void insert.run(frameId, JSON.stringify(spec), challenge),
    /** The last grade is shown, the best one counts. */
    graded: (frameId: string, found: PracticeGrade) => void grade.run(JSON.stringify(found), found.grade.gain, frameId),
    /** The best gain of each challenge that was graded. */
    bests: (): ReadonlyMap<string, number> => new Map(best.all().map(({ challenge, gain }) => [challenge, gain])),
  };
}
