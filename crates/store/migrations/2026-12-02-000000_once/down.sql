DROP INDEX pieces_by_printer;
DROP INDEX pieces_by_size;
DROP INDEX pieces_by_name;
ALTER TABLE pieces DROP COLUMN printer;
ALTER TABLE pieces DROP COLUMN longest;
ALTER TABLE pieces DROP COLUMN plain;
DROP TABLE set_aside;
DELETE FROM requests WHERE made NOT IN (SELECT id FROM pieces);
CREATE TABLE requests_of_pieces (
    id          TEXT    NOT NULL PRIMARY KEY,
    piece_id    TEXT    NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    added       TEXT,
    created_at  BIGINT  NOT NULL
);
INSERT INTO requests_of_pieces SELECT id, made, added, created_at FROM requests;
DROP TABLE requests;
ALTER TABLE requests_of_pieces RENAME TO requests;
CREATE INDEX requests_by_time ON requests (created_at);
