-- A request that was carried out is known again whatever it made: a piece, a starter, a filament, a printer, a typeface.
CREATE TABLE requests_of_all (
    id          TEXT    NOT NULL PRIMARY KEY,
    -- The id of what it made or changed.
    made        TEXT    NOT NULL,
    -- The address of what it added.
    added       TEXT,
    created_at  BIGINT  NOT NULL
);
INSERT INTO requests_of_all SELECT id, piece_id, added, created_at FROM requests;
DROP TABLE requests;
ALTER TABLE requests_of_all RENAME TO requests;
CREATE INDEX requests_by_time ON requests (created_at);

-- Documents that are no JSON any more, as they were found.
CREATE TABLE IF NOT EXISTS set_aside (
    -- "revision", "starter" or "printer".
    kind         TEXT    NOT NULL,
    -- The id of the piece, the starter or the printer.
    id           TEXT    NOT NULL,
    -- Which revision it was.
    number       INTEGER NOT NULL,
    document     BLOB    NOT NULL,
    -- Whether nothing was left of it that could be read.
    is_lost      BOOLEAN NOT NULL,
    PRIMARY KEY (kind, id, number)
) WITHOUT ROWID;

-- The name as it is looked for, the longest side in mm, and the id of the printer: what the list and a printer look for
-- pieces by. Nothing until the database is opened next.
ALTER TABLE pieces ADD COLUMN plain TEXT;
ALTER TABLE pieces ADD COLUMN longest DOUBLE;
ALTER TABLE pieces ADD COLUMN printer TEXT;

CREATE INDEX pieces_by_name ON pieces (deleted_at, plain, name);
CREATE INDEX pieces_by_size ON pieces (deleted_at, longest);
CREATE INDEX pieces_by_printer ON pieces (printer);
