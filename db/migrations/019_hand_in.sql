-- What a learner hands in, and what the teacher says to it.
CREATE TABLE hand_in (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  lesson_id INT UNSIGNED NOT NULL,
  block VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'the assignment on the lesson''s page',
  body TEXT NOT NULL,
  state ENUM('waiting', 'accepted', 'again') NOT NULL,
  answer TEXT NOT NULL DEFAULT '',
  at DATETIME(3) NOT NULL COMMENT 'handed in, the last time',
  answered_at DATETIME(3) NULL,
  UNIQUE KEY (person_id, lesson_id, block),
  KEY (lesson_id, state),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE
);
