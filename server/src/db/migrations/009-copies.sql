-- How a copy is handed over beside its format: colour space, what is told of the shot, px an inch, its name. JSON; null: as
-- copies were before there was a choice.
ALTER TABLE render_job ADD COLUMN wishes TEXT;
