-- The drawer a piece is kept apart in; nothing for those at hand.
ALTER TABLE pieces ADD COLUMN drawer TEXT;
-- The user's own starters have names of their own, and deleted ones can be brought back.
ALTER TABLE starters ADD COLUMN name TEXT NOT NULL DEFAULT '';
UPDATE starters SET name = coalesce(json_extract(document, '$.name'), '');
ALTER TABLE starters ADD COLUMN deleted_at BIGINT;
