-- A lesson is a page of blocks; a quiz in it is tried.
ALTER TABLE lesson
  ADD page MEDIUMTEXT NULL COMMENT 'JSON: its page; null: from before, made of body, picture, video and file',
  ADD page_revision INT UNSIGNED NOT NULL DEFAULT 1;

CREATE TABLE quiz_try (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  lesson_id INT UNSIGNED NOT NULL,
  block VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'the quiz on the lesson''s page',
  n SMALLINT UNSIGNED NOT NULL COMMENT 'the how manieth try',
  answers MEDIUMTEXT NOT NULL COMMENT 'JSON, by question',
  points SMALLINT UNSIGNED NOT NULL,
  of_points SMALLINT UNSIGNED NOT NULL,
  passed TINYINT(1) NOT NULL,
  at DATETIME(3) NOT NULL,
  UNIQUE KEY (person_id, lesson_id, block, n),
  KEY (lesson_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE
);
