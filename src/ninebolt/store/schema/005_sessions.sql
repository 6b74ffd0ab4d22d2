CREATE TABLE session (
  id         TEXT PRIMARY KEY,
  build_id   TEXT NOT NULL REFERENCES build(id) ON DELETE CASCADE,
  at         TEXT NOT NULL,
  name       TEXT NOT NULL,
  doc        TEXT NOT NULL,
  changed_at TEXT NOT NULL
) STRICT;

CREATE INDEX session_by_build ON session(build_id, at);
