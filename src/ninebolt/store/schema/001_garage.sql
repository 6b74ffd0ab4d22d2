CREATE TABLE build (
  id         TEXT PRIMARY KEY,
  name       TEXT NOT NULL,
  created_at TEXT NOT NULL,
  changed_at TEXT NOT NULL,
  archived   INTEGER NOT NULL DEFAULT 0,
  head       INTEGER NOT NULL,
  last_bolt  TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE revision (
  build_id TEXT NOT NULL REFERENCES build(id) ON DELETE CASCADE,
  seq      INTEGER NOT NULL,
  parent   INTEGER,
  at       TEXT NOT NULL,
  reason   TEXT NOT NULL,
  changes  TEXT NOT NULL,
  doc      TEXT NOT NULL,
  PRIMARY KEY (build_id, seq)
) STRICT;

CREATE TABLE trial (
  build_id TEXT PRIMARY KEY REFERENCES build(id) ON DELETE CASCADE,
  base_seq INTEGER NOT NULL,
  changes  TEXT NOT NULL,
  at       TEXT NOT NULL
) STRICT;

CREATE TABLE log (
  id          TEXT PRIMARY KEY,
  build_id    TEXT NOT NULL REFERENCES build(id) ON DELETE CASCADE,
  name        TEXT NOT NULL,
  mapping     TEXT NOT NULL,
  imported_at TEXT NOT NULL,
  data        BLOB NOT NULL
) STRICT;

CREATE TABLE preference (
  key   TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

CREATE INDEX log_by_build ON log(build_id);
