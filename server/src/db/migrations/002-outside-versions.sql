CREATE TABLE outside_version (
  id TEXT PRIMARY KEY,
  frame_id TEXT NOT NULL REFERENCES frame (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  -- SHA-256 of the file, which is kept as it came.
  sha256 TEXT NOT NULL,
  width INTEGER NOT NULL,
  height INTEGER NOT NULL,
  -- Where it lies on the frame, and how well, as JSON.
  alignment TEXT NOT NULL,
  created_at TEXT NOT NULL
) STRICT;
CREATE INDEX outside_version_by_frame ON outside_version (frame_id);
