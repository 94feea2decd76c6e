-- Prescriptions under a name, and rounds: one of them used on many frames.
CREATE TABLE kept_prescription (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  body TEXT NOT NULL,
  made_at TEXT NOT NULL,
  removed_at TEXT
) STRICT;

CREATE TABLE round (
  id TEXT PRIMARY KEY,
  -- Its place among the rounds that go: the lowest is taken first.
  place INTEGER NOT NULL,
  -- The kept prescription as it was when the round began.
  kept TEXT NOT NULL,
  format TEXT NOT NULL,
  quality INTEGER NOT NULL,
  name_pattern TEXT NOT NULL,
  -- Under the outbox; empty: the outbox itself.
  folder TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('going', 'paused', 'stopped', 'ended')),
  -- Why it was paused, where nobody paused it.
  note TEXT,
  begun_at TEXT NOT NULL,
  ended_at TEXT
) STRICT;

CREATE TABLE round_job (
  id TEXT PRIMARY KEY,
  round_id TEXT NOT NULL REFERENCES round (id),
  frame_id TEXT NOT NULL REFERENCES frame (id),
  place INTEGER NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'measuring', 'judging', 'rendering', 'done', 'failed', 'stopped')),
  -- Until when whoever works on it is believed to live.
  leased_until TEXT,
  attempts INTEGER NOT NULL DEFAULT 0,
  prescription TEXT,
  reasons TEXT NOT NULL DEFAULT '[]',
  judgement TEXT,
  -- Reserved before anything is written, so that a job that is begun again writes no second file.
  file_name TEXT UNIQUE,
  file_bytes INTEGER,
  outcome TEXT CHECK (outcome IN ('accepted', 'taken-back')),
  error TEXT,
  begun_at TEXT,
  ended_at TEXT,
  seconds REAL,
  UNIQUE (round_id, frame_id)
) STRICT;
CREATE INDEX round_job_by_round ON round_job (round_id, place);
