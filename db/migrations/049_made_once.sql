-- What a form has made, by the key that it carries: pressed again it shows that, and makes nothing more.
CREATE TABLE made (
  once BINARY(16) NOT NULL PRIMARY KEY,
  id INT UNSIGNED NULL,
  at DATETIME(3) NOT NULL COMMENT 'real time',
  KEY (at)
);
