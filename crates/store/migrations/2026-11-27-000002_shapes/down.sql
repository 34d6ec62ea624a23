DROP TABLE shapes;
