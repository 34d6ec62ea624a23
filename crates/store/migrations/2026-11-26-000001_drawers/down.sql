ALTER TABLE starters DROP COLUMN deleted_at;
ALTER TABLE starters DROP COLUMN name;
ALTER TABLE pieces DROP COLUMN drawer;
