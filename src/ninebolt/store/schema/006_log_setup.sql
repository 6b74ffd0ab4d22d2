ALTER TABLE log ADD COLUMN seq INTEGER;
UPDATE log SET seq = (
  SELECT max(r.seq) FROM revision r WHERE r.build_id = log.build_id AND r.at <= log.imported_at
);
