-- Whoever has done a course that certifies gets a certificate, with a number by which anybody can see that it is genuine.
ALTER TABLE course ADD certifies TINYINT(1) NOT NULL DEFAULT 0;
CREATE TABLE certificate (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  number CHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'random: it cannot be guessed',
  person_id INT UNSIGNED NOT NULL,
  course_id INT UNSIGNED NOT NULL,
  name VARCHAR(120) NOT NULL COMMENT 'as it stands on it',
  title VARCHAR(160) NOT NULL COMMENT 'of the course, as it was',
  at DATETIME(3) NOT NULL,
  UNIQUE KEY (number),
  UNIQUE KEY (person_id, course_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE
);
