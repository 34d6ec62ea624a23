-- A piece and where in its history it stands.
CREATE TABLE pieces (
    id          TEXT    NOT NULL PRIMARY KEY,
    -- The place in the history that is shown: the number of a revision.
    head        INTEGER NOT NULL,
    -- Times are milliseconds since 1970.
    created_at  BIGINT  NOT NULL,
    changed_at  BIGINT  NOT NULL,
    -- Set when the piece was deleted; it can be brought back.
    deleted_at  BIGINT
);

-- Every state a piece has had, as its own JSON. Redo is what lies beyond the head.
CREATE TABLE revisions (
    piece_id    TEXT    NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    number      INTEGER NOT NULL,
    document    TEXT    NOT NULL,
    -- Changes of one gesture (a drag, a burst of typing) share a revision.
    gesture     TEXT,
    PRIMARY KEY (piece_id, number)
);

CREATE INDEX pieces_by_change ON pieces (deleted_at, changed_at);
