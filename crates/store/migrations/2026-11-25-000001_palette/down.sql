DROP TABLE filaments;
