-- A learner's other address; who hasn't been here for long; who may still sign up; where one goes on leaving.
CREATE TABLE address_change (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  email VARCHAR(320) NOT NULL COMMENT 'the address that is to be theirs, as typed',
  canonical VARCHAR(320) COLLATE utf8mb4_bin NOT NULL,
  old_email VARCHAR(320) NOT NULL,
  expires_at DATETIME(3) NOT NULL COMMENT 'business time',
  old_pressed_at DATETIME(3) NULL,
  new_pressed_at DATETIME(3) NULL,
  done_at DATETIME(3) NULL,
  KEY (person_id, expires_at),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
) COMMENT 'proved by both mailboxes, or nothing happens';

ALTER TABLE mail
  ADD address_change_id INT UNSIGNED NULL,
  ADD comment_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (address_change_id) REFERENCES address_change (id) ON DELETE CASCADE,
  ADD FOREIGN KEY (comment_id) REFERENCES comment (id) ON DELETE CASCADE;

ALTER TABLE course
  ADD signing_up TINYINT(1) NOT NULL DEFAULT 1 COMMENT 'forms let people in; 0: only what is bought, and what the school does',
  ADD away_days SMALLINT UNSIGNED NULL COMMENT 'after so many days somebody counts as not here; null: nobody does',
  ADD leave_step_id INT UNSIGNED NULL COMMENT 'where the last lesson leads',
  ADD FOREIGN KEY (leave_step_id) REFERENCES step (id) ON DELETE SET NULL;

ALTER TABLE school
  ADD leave_step_id INT UNSIGNED NULL COMMENT 'where signing out of the learning area leads',
  ADD FOREIGN KEY (leave_step_id) REFERENCES step (id) ON DELETE SET NULL;

CREATE TABLE presence (
  person_id INT UNSIGNED NOT NULL,
  course_id INT UNSIGNED NOT NULL,
  last_at DATETIME(3) NOT NULL COMMENT 'business time: the last look at a lesson, or when they were let in',
  away_at DATETIME(3) NULL COMMENT 'when they count as not here; null: nobody waits for it, or it has been said',
  PRIMARY KEY (person_id, course_id),
  KEY (away_at),
  KEY (course_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE
);
INSERT INTO presence (person_id, course_id, last_at)
SELECT a.person_id, a.course_id, GREATEST(MIN(a.from_at), COALESCE((SELECT MAX(s.last_at) FROM lesson_seen s JOIN lesson l ON l.id = s.lesson_id WHERE s.person_id = a.person_id AND l.course_id = a.course_id), MIN(a.from_at)))
FROM admission a WHERE a.course_id IS NOT NULL GROUP BY a.person_id, a.course_id;
