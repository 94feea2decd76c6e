-- A frame is sorted first (its pile) and looked after later: its subject, the Reading over it and probes are then proposed.
CREATE TABLE reading_of_frame (
  frame_id TEXT PRIMARY KEY REFERENCES frame (id),
  state TEXT NOT NULL CHECK (state IN ('waiting', 'sorted', 'done', 'failed')),
  body TEXT,
  error TEXT,
  attempts INTEGER NOT NULL DEFAULT 0,
  proposal TEXT,
  wanted_at TEXT
) STRICT;
INSERT INTO reading_of_frame (frame_id, state, body, error, attempts)
  SELECT frame_id, state, body, error, attempts FROM reading ORDER BY rowid;
DROP TABLE reading;
ALTER TABLE reading_of_frame RENAME TO reading;
