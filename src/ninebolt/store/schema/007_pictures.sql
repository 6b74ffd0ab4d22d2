CREATE TABLE picture (
  id       TEXT PRIMARY KEY,
  build_id TEXT NOT NULL REFERENCES build(id) ON DELETE CASCADE,
  place    TEXT NOT NULL,
  name     TEXT NOT NULL,
  media    TEXT NOT NULL,
  at       TEXT NOT NULL,
  data     BLOB NOT NULL
) STRICT;

CREATE INDEX picture_by_build ON picture(build_id, at);
