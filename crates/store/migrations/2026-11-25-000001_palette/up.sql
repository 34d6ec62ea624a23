-- The filaments at hand. Pieces keep copies of those they use.
CREATE TABLE filaments (
    id          TEXT    NOT NULL PRIMARY KEY,
    -- Their order.
    place       BIGINT  NOT NULL,
    name        TEXT    NOT NULL,
    -- As #2f5d83.
    colour      TEXT    NOT NULL,
    material    TEXT    NOT NULL,
    -- In g/cm³.
    density     DOUBLE  NOT NULL,
    spool_price DOUBLE  NOT NULL,
    -- In g.
    spool_mass  DOUBLE  NOT NULL
);
