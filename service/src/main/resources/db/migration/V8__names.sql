-- How many of the renamings that the store has noted are made in this catalogue.
CREATE TABLE renamed (
  id INT PRIMARY KEY,
  made INT NOT NULL
);
INSERT INTO renamed (id, made) VALUES (1, 0);
