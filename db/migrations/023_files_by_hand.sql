-- An invitation may open a file as well as a course.
ALTER TABLE invitation
  MODIFY course_id INT UNSIGNED NULL,
  ADD media_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (media_id) REFERENCES media (id),
  ADD CHECK ((course_id IS NULL) <> (media_id IS NULL));
