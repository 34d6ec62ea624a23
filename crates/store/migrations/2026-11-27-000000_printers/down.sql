DROP TABLE printers;
