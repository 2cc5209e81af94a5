-- What learners write: notes of their own, and comments that others read.
CREATE TABLE note (
  person_id INT UNSIGNED NOT NULL,
  lesson_id INT UNSIGNED NOT NULL,
  body TEXT NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (person_id, lesson_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE
) COMMENT 'read by whoever wrote it';

ALTER TABLE lesson ADD comments ENUM('off', 'on', 'moderated') NOT NULL DEFAULT 'off';

CREATE TABLE comment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  lesson_id INT UNSIGNED NOT NULL,
  answers_id INT UNSIGNED NULL COMMENT 'the comment it answers',
  person_id INT UNSIGNED NULL,
  account_id INT UNSIGNED NULL COMMENT 'the school, where no person wrote it',
  body TEXT NOT NULL COMMENT 'plain text',
  state ENUM('waiting', 'shown', 'hidden') NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY (lesson_id, id),
  KEY (state, id),
  CHECK ((person_id IS NULL) <> (account_id IS NULL)),
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE,
  FOREIGN KEY (answers_id) REFERENCES comment (id) ON DELETE CASCADE,
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
);
