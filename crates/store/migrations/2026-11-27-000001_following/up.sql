-- Who gave a printer new figures that not all pieces made on it have got yet; nobody where all have.
ALTER TABLE printers ADD COLUMN following TEXT;
