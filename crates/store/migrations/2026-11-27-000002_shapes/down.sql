DROP TABLE shapes;
DROP TABLE drawings;
