-- Who waits for a course: asked for on a catalogue, said yes to by the press in the mailbox, told once when it opens.

CREATE TABLE waiting (
  person_id INT UNSIGNED NOT NULL,
  course_id INT UNSIGNED NOT NULL,
  page VARCHAR(255) NOT NULL COMMENT 'where they asked, and find it when it is open; with its slash',
  since_at DATETIME(3) NOT NULL,
  told_at DATETIME(3) NULL,
  PRIMARY KEY (person_id, course_id),
  KEY (course_id, told_at),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE
);

ALTER TABLE pending_join
  ADD waits_course_id INT UNSIGNED NULL COMMENT 'the course that they want to be told of; null: they join what the page is about',
  ADD FOREIGN KEY (waits_course_id) REFERENCES course (id) ON DELETE SET NULL;

ALTER TABLE mail
  ADD course_id INT UNSIGNED NULL COMMENT 'the course that it is about, where it is about one',
  ADD FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE;
