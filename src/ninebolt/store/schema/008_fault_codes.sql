ALTER TABLE controller_profile ADD COLUMN codes TEXT NOT NULL DEFAULT '';
