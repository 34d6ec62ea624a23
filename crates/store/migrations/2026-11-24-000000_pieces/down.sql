DROP TABLE revisions; DROP TABLE pieces;
