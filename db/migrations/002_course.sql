-- What is taught.

CREATE TABLE course (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  slug VARCHAR(80) COLLATE utf8mb4_bin NOT NULL,
  title VARCHAR(160) NOT NULL,
  promise VARCHAR(400) NOT NULL DEFAULT '',
  teacher VARCHAR(120) NOT NULL DEFAULT '',
  picture_id INT UNSIGNED NULL,
  state ENUM('draft', 'live') NOT NULL DEFAULT 'draft',
  made_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  UNIQUE KEY (slug),
  FOREIGN KEY (picture_id) REFERENCES media (id)
);

CREATE TABLE lesson (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  course_id INT UNSIGNED NOT NULL,
  position INT NOT NULL,
  title VARCHAR(160) NOT NULL,
  body MEDIUMTEXT NOT NULL COMMENT 'sanitised HTML',
  minutes SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  picture_id INT UNSIGNED NULL,
  picture_alt VARCHAR(300) NOT NULL DEFAULT '',
  video_id INT UNSIGNED NULL,
  file_id INT UNSIGNED NULL,
  state ENUM('draft', 'live') NOT NULL DEFAULT 'draft',
  KEY (course_id, position),
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE,
  FOREIGN KEY (picture_id) REFERENCES media (id),
  FOREIGN KEY (video_id) REFERENCES media (id),
  FOREIGN KEY (file_id) REFERENCES media (id)
);
