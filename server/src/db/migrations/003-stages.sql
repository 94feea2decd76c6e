-- Which stages of the frame a render writes, as JSON: one, or several as pages of one file.
ALTER TABLE render_job ADD COLUMN stages TEXT NOT NULL DEFAULT '["recovered"]';
