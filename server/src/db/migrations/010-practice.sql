-- Photographs of the practice camera: how each was taken, so that it can be graded, and the best grade it was given.
CREATE TABLE practice_frame (
  frame_id TEXT PRIMARY KEY REFERENCES frame (id) ON DELETE CASCADE,
  -- JSON; that of a challenge is null.
  spec TEXT NOT NULL,
  -- One of the challenges; null: a photograph of one's own.
  challenge TEXT,
  -- JSON of the last grade, and the most dB it ever came nearer to the truth; null: not graded yet.
  grade TEXT,
  gain REAL
) STRICT;
