-- What a lesson asks without marking it; files that are handed in; how long what a lesson plays is.
CREATE TABLE survey_answer (
  person_id INT UNSIGNED NOT NULL,
  lesson_id INT UNSIGNED NOT NULL,
  block VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'the survey on the lesson''s page',
  answers MEDIUMTEXT NOT NULL COMMENT 'JSON, by question',
  at DATETIME(3) NOT NULL COMMENT 'business time: the last time',
  PRIMARY KEY (person_id, lesson_id, block),
  KEY (lesson_id, block, at),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE
);

ALTER TABLE media
  MODIFY kind ENUM('picture', 'video', 'file', 'handed-in') NOT NULL,
  ADD seconds INT UNSIGNED NULL COMMENT 'how long it plays, read from the file; 0: it doesn''t, or nobody can tell; null: not looked at yet',
  ADD person_id INT UNSIGNED NULL COMMENT 'who handed it in',
  ADD FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE;

ALTER TABLE hand_in
  ADD media_id INT UNSIGNED NULL COMMENT 'the file that was handed in',
  ADD FOREIGN KEY (media_id) REFERENCES media (id) ON DELETE SET NULL;

ALTER TABLE lesson
  ADD seconds INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how long what its page plays is',
  ADD takes SMALLINT UNSIGNED AS (IF(minutes > 0, minutes, CEIL(seconds / 60))) VIRTUAL COMMENT 'minutes: as typed, or else counted',
  ADD only_files TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'its page is files, and words and pictures that go with them';
