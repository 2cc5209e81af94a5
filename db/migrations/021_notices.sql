-- Notices: words with one button, on the sign-in page, the shelf or beside lessons, for those whom they are meant for.
CREATE TABLE notice (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  place ENUM('sign-in', 'shelf', 'lesson') NOT NULL,
  course_id INT UNSIGNED NULL COMMENT 'beside the lessons of this course only; null: of every course',
  title VARCHAR(160) NOT NULL,
  body VARCHAR(600) NOT NULL DEFAULT '',
  button VARCHAR(60) NOT NULL DEFAULT '',
  leads TEXT NOT NULL DEFAULT 'null' COMMENT 'JSON: where the button leads',
  segment TEXT NOT NULL DEFAULT '{"match":"all","parts":[]}' COMMENT 'JSON: whom it is for',
  from_on DATE NULL COMMENT 'on the school''s calendar',
  until_on DATE NULL COMMENT 'to its end',
  most INT UNSIGNED NULL COMMENT 'how often one person sees it; null: whenever they come by',
  live TINYINT(1) NOT NULL DEFAULT 0,
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  seen INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how often it came in view',
  pressed INT UNSIGNED NOT NULL DEFAULT 0,
  made_at DATETIME(3) NOT NULL,
  KEY (live, place),
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE
);

CREATE TABLE notice_seen (
  notice_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  times INT UNSIGNED NOT NULL DEFAULT 0,
  pressed_at DATETIME(3) NULL COMMENT 'business time: the first press',
  PRIMARY KEY (person_id, notice_id),
  KEY (notice_id),
  FOREIGN KEY (notice_id) REFERENCES notice (id) ON DELETE CASCADE,
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
);

ALTER TABLE reference
  ADD from_notice_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (from_notice_id) REFERENCES notice (id) ON DELETE CASCADE;
