-- A change that another of the same gesture (a drag, a burst of typing) took the place of is kept for a while: somebody
-- may have seen it, and changes on it must be held against what it was. Milliseconds since 1970.
ALTER TABLE steps ADD COLUMN superseded_at BIGINT;

-- Which meshes and shapes a piece is made of, or was at any revision: with undo, or brought back, it is again.
CREATE TABLE piece_uses (
    piece_id    TEXT    NOT NULL REFERENCES pieces (id) ON DELETE CASCADE,
    -- The id of a mesh or of a shape.
    thing       TEXT    NOT NULL,
    PRIMARY KEY (piece_id, thing)
) WITHOUT ROWID;

CREATE INDEX piece_uses_by_thing ON piece_uses (thing);

-- Whether all revisions were looked through for them. Those there are now are when the database is opened next.
ALTER TABLE pieces ADD COLUMN uses_known BOOLEAN NOT NULL DEFAULT 0;
