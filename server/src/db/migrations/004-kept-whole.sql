-- How often a piece of work was begun: one that ended the process twice is not begun a third time.
ALTER TABLE render_job ADD COLUMN attempts INTEGER NOT NULL DEFAULT 0;
ALTER TABLE reading ADD COLUMN attempts INTEGER NOT NULL DEFAULT 0;

-- A removed version can be put back.
ALTER TABLE outside_version ADD COLUMN removed_at TEXT;

-- Asked for by every contact sheet, so it is not read out of the body; heavy bodies are packed (raw deflate), and then
-- the body is empty.
ALTER TABLE prescription ADD COLUMN has_choice INTEGER NOT NULL DEFAULT 0;
ALTER TABLE prescription ADD COLUMN packed BLOB;
UPDATE prescription SET has_choice =
  json_extract(body, '$.recovery') IS NOT NULL
  OR EXISTS (SELECT 1 FROM json_each(body, '$.masksBelow') WHERE json_extract(value, '$.recovery') IS NOT NULL)
  OR EXISTS (SELECT 1 FROM json_each(body, '$.masksAbove') WHERE json_extract(value, '$.recovery') IS NOT NULL)
WHERE json_valid(body);

-- What the program has to remember of itself, such as a demo shoot that is not loaded to its end.
CREATE TABLE note (
  name TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;
