-- Every page and lesson as it was after each burst of writing.
CREATE TABLE page_version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  step_id INT UNSIGNED NULL,
  lesson_id INT UNSIGNED NULL,
  began_at DATETIME(3) NOT NULL,
  at DATETIME(3) NOT NULL COMMENT 'when it was last written to',
  actor VARCHAR(40) CHARACTER SET ascii NULL,
  name VARCHAR(80) NULL COMMENT 'one that has a name is never thinned out',
  page MEDIUMTEXT NOT NULL COMMENT 'the document, JSON',
  KEY (step_id, id),
  KEY (lesson_id, id),
  KEY (name, at),
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE
) COMMENT 'pages and lessons as they were';
