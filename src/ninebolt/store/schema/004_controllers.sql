CREATE TABLE reading (
  id       TEXT PRIMARY KEY,
  build_id TEXT NOT NULL REFERENCES build(id) ON DELETE CASCADE,
  at       TEXT NOT NULL,
  why      TEXT NOT NULL,
  device   TEXT NOT NULL,
  profile  TEXT NOT NULL,
  numbers  TEXT NOT NULL
) STRICT;

CREATE TABLE writing (
  id         TEXT PRIMARY KEY,
  build_id   TEXT NOT NULL REFERENCES build(id) ON DELETE CASCADE,
  reading_id TEXT NOT NULL REFERENCES reading(id) ON DELETE CASCADE,
  at         TEXT NOT NULL,
  why        TEXT NOT NULL,
  device     TEXT NOT NULL,
  profile    TEXT NOT NULL,
  steps      TEXT NOT NULL,
  state      TEXT NOT NULL,
  reached    TEXT NOT NULL DEFAULT '',
  ended_at   TEXT
) STRICT;

CREATE TABLE controller_profile (
  key      TEXT PRIMARY KEY,
  name     TEXT NOT NULL,
  eds      BLOB NOT NULL,
  places   TEXT NOT NULL,
  added_at TEXT NOT NULL
) STRICT;

CREATE INDEX reading_by_build ON reading(build_id, at);
CREATE INDEX writing_by_build ON writing(build_id, at);
