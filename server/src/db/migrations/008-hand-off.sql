-- Watched folders: a file laid into one becomes a frame of its shoot, and is recovered by itself where a prescription is named.
CREATE TABLE hand_off (
  id TEXT PRIMARY KEY,
  -- The name of its folder, in hand-off/ and in the outbox.
  folder TEXT NOT NULL UNIQUE,
  shoot_id TEXT NOT NULL REFERENCES shoot (id) ON DELETE CASCADE,
  kept_id TEXT REFERENCES kept_prescription (id),
  format TEXT NOT NULL,
  quality INTEGER NOT NULL,
  -- The round its frames are added to.
  round_id TEXT REFERENCES round (id),
  made_at TEXT NOT NULL
) STRICT;

-- What came of each file.
CREATE TABLE hand_off_file (
  id TEXT PRIMARY KEY,
  hand_off_id TEXT NOT NULL REFERENCES hand_off (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  frame_id TEXT REFERENCES frame (id) ON DELETE SET NULL,
  -- Why it was refused.
  error TEXT,
  came_at TEXT NOT NULL
) STRICT;
CREATE INDEX hand_off_file_by_folder ON hand_off_file (hand_off_id, came_at);

-- Longer side of what a round writes, px; null: as it is.
ALTER TABLE round ADD COLUMN long_edge_px INTEGER;
