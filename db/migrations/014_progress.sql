-- A module or a course that is done can set effects off; whoever is to be told that a part opens is waited for.
ALTER TABLE effect
  ADD on_course_id INT UNSIGNED NULL,
  ADD on_module_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (on_course_id) REFERENCES course (id) ON DELETE CASCADE,
  ADD FOREIGN KEY (on_module_id) REFERENCES module (id) ON DELETE CASCADE;

CREATE TABLE opening (
  person_id INT UNSIGNED NOT NULL,
  course_id INT UNSIGNED NOT NULL,
  since_at DATETIME(3) NOT NULL COMMENT 'business time: what had opened by then has been told, or needn''t be',
  due_at DATETIME(3) NOT NULL COMMENT 'business time: when the next part opens',
  PRIMARY KEY (person_id, course_id),
  KEY (due_at),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE
) COMMENT 'who waits for the next part of a course';
