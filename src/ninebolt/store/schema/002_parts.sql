CREATE TABLE part (
  id         TEXT PRIMARY KEY,
  kind       TEXT NOT NULL,
  name       TEXT NOT NULL,
  doc        TEXT NOT NULL,
  changed_at TEXT NOT NULL
) STRICT;

CREATE INDEX part_by_kind ON part(kind, name);
