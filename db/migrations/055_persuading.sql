-- What calms doubts: who teaches, what learners say of a course, what one will be able to do, until when the money is given back.
CREATE TABLE teacher (
  id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  about VARCHAR(2000) NOT NULL COMMENT 'plain text, by lines',
  media_id INT UNSIGNED NULL COMMENT 'the portrait',
  position INT UNSIGNED NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 0,
  FOREIGN KEY (media_id) REFERENCES media (id) ON DELETE SET NULL
);

CREATE TABLE quote (
  id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  course_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NULL COMMENT 'who said it; null: it was typed in the studio',
  name VARCHAR(120) NOT NULL COMMENT 'as they want to be named; empty: they don''t',
  words VARCHAR(600) NOT NULL,
  media_id INT UNSIGNED NULL COMMENT 'a portrait',
  consent VARCHAR(600) NOT NULL COMMENT 'the words by which they agreed, or how the school knows',
  state ENUM('new', 'shown', 'not-shown') NOT NULL DEFAULT 'new',
  at DATETIME(3) NOT NULL COMMENT 'business time',
  revision INT UNSIGNED NOT NULL DEFAULT 0,
  UNIQUE KEY (person_id, course_id),
  KEY (course_id, state, at),
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE,
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (media_id) REFERENCES media (id) ON DELETE SET NULL
);

ALTER TABLE course ADD promises VARCHAR(4000) NOT NULL DEFAULT '[]' COMMENT 'what they will be able to do, JSON list of lines';
ALTER TABLE offer ADD refund_days SMALLINT UNSIGNED NULL COMMENT 'days after the order within which it is given back without questions; null: nothing is promised';

ALTER TABLE reference ADD teacher_id INT UNSIGNED NULL, ADD FOREIGN KEY (teacher_id) REFERENCES teacher (id) ON DELETE CASCADE;
ALTER TABLE reference
  DROP CONSTRAINT CONSTRAINT_1,
  ADD CHECK ((offer_id IS NOT NULL) + (course_id IS NOT NULL) + (lesson_id IS NOT NULL) + (media_id IS NOT NULL) + (sequence_id IS NOT NULL) + (tag_id IS NOT NULL) + (to_step_id IS NOT NULL) + (field_id IS NOT NULL) + (choice_id IS NOT NULL) + (webinar_id IS NOT NULL) + (segment_id IS NOT NULL) + (teacher_id IS NOT NULL) = 1);
