CREATE TABLE drawings (
    id TEXT PRIMARY KEY NOT NULL,
    name TEXT NOT NULL,
    file BLOB NOT NULL,
    created_at BIGINT NOT NULL
);

CREATE TABLE shapes (
    id TEXT PRIMARY KEY NOT NULL,
    name TEXT NOT NULL,
    document BLOB NOT NULL,
    colour TEXT,
    drawing TEXT,
    choice TEXT,
    created_at BIGINT NOT NULL
);
