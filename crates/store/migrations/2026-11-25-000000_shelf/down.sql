DROP TABLE starters;
DROP TABLE typefaces;
