CREATE TABLE shoot (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE frame (
  id TEXT PRIMARY KEY,
  shoot_id TEXT NOT NULL REFERENCES shoot (id),
  name TEXT NOT NULL,
  sha256 TEXT NOT NULL,
  format TEXT NOT NULL,
  width INTEGER NOT NULL,
  height INTEGER NOT NULL,
  channels INTEGER NOT NULL,
  bits INTEGER NOT NULL,
  profile TEXT NOT NULL,
  exposure TEXT NOT NULL,
  added_at TEXT NOT NULL,
  UNIQUE (shoot_id, sha256)
) STRICT;

-- The first reading of a frame, taken after it came in.
CREATE TABLE reading (
  frame_id TEXT PRIMARY KEY REFERENCES frame (id),
  state TEXT NOT NULL CHECK (state IN ('waiting', 'done', 'failed')),
  body TEXT,
  error TEXT
) STRICT;

CREATE TABLE prescription (
  frame_id TEXT PRIMARY KEY REFERENCES frame (id),
  revision INTEGER NOT NULL,
  body TEXT NOT NULL,
  saved_at TEXT NOT NULL
) STRICT;

CREATE TABLE render_job (
  id TEXT PRIMARY KEY,
  frame_id TEXT NOT NULL REFERENCES frame (id),
  prescription TEXT NOT NULL,
  format TEXT NOT NULL,
  quality INTEGER NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('queued', 'running', 'done', 'failed', 'stopped')),
  tiles_done INTEGER NOT NULL DEFAULT 0,
  tiles_all INTEGER NOT NULL DEFAULT 0,
  queued_at TEXT NOT NULL,
  started_at TEXT,
  finished_at TEXT,
  file_name TEXT,
  file_bytes INTEGER,
  error TEXT
) STRICT;
