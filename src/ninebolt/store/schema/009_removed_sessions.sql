ALTER TABLE session ADD COLUMN removed_at TEXT;
