-- Frames and shoots that were removed lie in the trash until it is emptied.
ALTER TABLE frame ADD COLUMN removed_at TEXT;
ALTER TABLE shoot ADD COLUMN removed_at TEXT;
-- The pile a person put a frame into, over the measured one.
ALTER TABLE frame ADD COLUMN pile_by_hand TEXT
  CHECK (pile_by_hand IN ('good-as-is', 'grainy', 'soft', 'beyond-recovery'));
CREATE INDEX frame_by_file ON frame (sha256);

-- What a sheet of many frames shows of each, as JSON: a body is longer than that by a hundred times.
ALTER TABLE reading ADD COLUMN sorted_as TEXT;
UPDATE reading SET sorted_as = json_object(
  'pile', json_extract(body, '$.pile'),
  'method', json_extract(body, '$.cause.method'),
  'blurSizePx', coalesce(json_extract(body, '$.cause.blurSizePx'), 0),
  'directionDeg', coalesce(json_extract(body, '$.cause.directionDeg'), 0),
  'noisePercent', json_extract(body, '$.noisePercent'),
  'finestNowPx', json_extract(body, '$.finestNowPx'),
  'finestRecoverablePx', json_extract(body, '$.finestRecoverablePx'),
  'confidence', json_extract(body, '$.confidence'),
  'over', json_extract(proposal, '$.over'),
  'place', json(CASE WHEN json_extract(proposal, '$.probes[0].x') IS NULL THEN 'null' ELSE
    json_object('x', json_extract(proposal, '$.probes[0].x'), 'y', json_extract(proposal, '$.probes[0].y')) END)
) WHERE body IS NOT NULL AND json_valid(body);
