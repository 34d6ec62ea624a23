-- The user's own typefaces: a face of a font file, a variable one at a weight.
CREATE TABLE typefaces (
    id          TEXT    NOT NULL PRIMARY KEY,
    name        TEXT    NOT NULL,
    -- The font as TrueType or OpenType, unpacked.
    font        BLOB    NOT NULL,
    face_index  INTEGER NOT NULL,
    weight      REAL,
    -- What the font states of its licence; empty where it states nothing.
    licence     TEXT    NOT NULL,
    created_at  BIGINT  NOT NULL
);

-- Pieces kept as starters, as their own JSON.
CREATE TABLE starters (
    id          TEXT    NOT NULL PRIMARY KEY,
    document    TEXT    NOT NULL,
    created_at  BIGINT  NOT NULL
);
