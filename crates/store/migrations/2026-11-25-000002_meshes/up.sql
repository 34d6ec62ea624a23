-- Mesh files that pieces are made of.
CREATE TABLE meshes (
    -- "mesh-" and the first half of the SHA-256 of the file.
    id          TEXT    NOT NULL PRIMARY KEY,
    name        TEXT    NOT NULL,
    -- The file as it came.
    file        BLOB    NOT NULL,
    triangles   INTEGER NOT NULL,
    -- Whether its surface has to be mended before it is worked on.
    is_mended   BOOLEAN NOT NULL,
    created_at  BIGINT  NOT NULL
);
