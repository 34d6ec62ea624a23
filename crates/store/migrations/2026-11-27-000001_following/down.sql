ALTER TABLE printers DROP COLUMN following;
