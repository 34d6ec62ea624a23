CREATE TABLE shapes (
    id TEXT PRIMARY KEY NOT NULL,
    name TEXT NOT NULL,
    document BLOB NOT NULL,
    colour TEXT,
    created_at BIGINT NOT NULL
);
