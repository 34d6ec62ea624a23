ALTER TABLE pieces DROP COLUMN uses_known;
DROP TABLE piece_uses;
DELETE FROM revisions WHERE (piece_id, number) IN (SELECT piece_id, number FROM steps WHERE superseded_at IS NOT NULL);
ALTER TABLE steps DROP COLUMN superseded_at;
