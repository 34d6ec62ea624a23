DROP TABLE meshes;
