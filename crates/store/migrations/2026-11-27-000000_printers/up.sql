-- Printers with their nozzles, beds and fits.
CREATE TABLE printers (
    id          TEXT    NOT NULL PRIMARY KEY,
    -- As it stands in a piece, as JSON.
    document    TEXT    NOT NULL,
    created_at  BIGINT  NOT NULL
);
