-- What each revision is in the history of its piece: who made it and when, and what it did. Kept apart
-- from the documents, so that the history can be looked through without reading them.
CREATE TABLE steps (
    piece_id    TEXT    NOT NULL,
    number      INTEGER NOT NULL,
    -- Who made it; empty for what was made before authors were kept.
    author      TEXT    NOT NULL,
    -- Milliseconds since 1970; 0 for what was made before times were kept.
    created_at  BIGINT  NOT NULL,
    -- "made" for the first, "step" for a change, "undo" and "redo" of one.
    act         TEXT    NOT NULL,
    -- The step that was taken back or brought again.
    step        INTEGER,
    -- The revision the step began from.
    base        INTEGER NOT NULL,
    -- Changes of one gesture (a drag, a burst of typing) are one step.
    gesture     TEXT,
    PRIMARY KEY (piece_id, number),
    FOREIGN KEY (piece_id, number) REFERENCES revisions (piece_id, number) ON DELETE CASCADE
) WITHOUT ROWID;

-- From now on the head is the last revision, and going back is a revision of its own.
DELETE FROM revisions WHERE number > (SELECT head FROM pieces WHERE pieces.id = piece_id);
INSERT INTO steps
    SELECT piece_id, number, '', 0, iif(number = 1, 'made', 'step'), NULL, number - 1, NULL FROM revisions;

-- Requests that were carried out: the same request is answered again and not carried out twice.
CREATE TABLE requests (
    id          TEXT    NOT NULL PRIMARY KEY,
    piece_id    TEXT    NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    -- The address of what it added.
    added       TEXT,
    created_at  BIGINT  NOT NULL
);

CREATE INDEX requests_by_time ON requests (created_at);

-- What a list shows of a piece, so that it need not be read or worked out.
ALTER TABLE pieces ADD COLUMN name TEXT NOT NULL DEFAULT '';
UPDATE pieces SET name = coalesce(
    (SELECT json_extract(document, '$.name') FROM revisions WHERE piece_id = pieces.id AND number = head), '');
-- Width, height and thickness in words; nothing until it was worked out once.
ALTER TABLE pieces ADD COLUMN size TEXT;
-- The picture of its front as SVG, and the revision it shows.
ALTER TABLE pieces ADD COLUMN picture TEXT;
ALTER TABLE pieces ADD COLUMN pictured INTEGER;
