-- What the school wants to know of its people besides, and what is known of each.
CREATE TABLE field (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  label VARCHAR(60) NOT NULL,
  kind ENUM('text', 'number', 'date', 'choice', 'yes-no') NOT NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY (label)
);

CREATE TABLE choice (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  field_id INT UNSIGNED NOT NULL,
  position SMALLINT UNSIGNED NOT NULL,
  says VARCHAR(80) NOT NULL,
  UNIQUE KEY (field_id, says),
  FOREIGN KEY (field_id) REFERENCES field (id) ON DELETE CASCADE
) COMMENT 'what can be chosen; yes and no where the field is one of yes or no';

CREATE TABLE person_field (
  person_id INT UNSIGNED NOT NULL,
  field_id INT UNSIGNED NOT NULL,
  value VARCHAR(500) COLLATE utf8mb4_bin NOT NULL COMMENT 'text as typed, a number in digits, a date as 2026-11-26, the number of a choice',
  folded VARCHAR(500) COLLATE utf8mb4_bin NOT NULL COMMENT 'the same in small letters, to be compared',
  number DOUBLE NULL COMMENT 'the same as a number, where it is one',
  at DATETIME(3) NOT NULL,
  import_id INT UNSIGNED NULL COMMENT 'the file that says so',
  PRIMARY KEY (person_id, field_id),
  KEY (field_id, folded(60), person_id),
  KEY (field_id, number, person_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (field_id) REFERENCES field (id) ON DELETE CASCADE,
  FOREIGN KEY (import_id) REFERENCES person_import (id) ON DELETE SET NULL
);

ALTER TABLE pending_join ADD answers TEXT NOT NULL DEFAULT '{}' COMMENT 'JSON: what was typed into fields, by their number';

ALTER TABLE reference
  ADD field_id INT UNSIGNED NULL,
  ADD choice_id INT UNSIGNED NULL,
  DROP CONSTRAINT CONSTRAINT_1,
  ADD CHECK ((offer_id IS NOT NULL) + (course_id IS NOT NULL) + (lesson_id IS NOT NULL) + (media_id IS NOT NULL) + (sequence_id IS NOT NULL) + (tag_id IS NOT NULL) + (to_step_id IS NOT NULL) + (field_id IS NOT NULL) + (choice_id IS NOT NULL) = 1),
  ADD FOREIGN KEY (field_id) REFERENCES field (id) ON DELETE CASCADE,
  ADD FOREIGN KEY (choice_id) REFERENCES choice (id) ON DELETE CASCADE;

ALTER TABLE effect
  ADD on_field_id INT UNSIGNED NULL,
  ADD on_choice_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (on_field_id) REFERENCES field (id) ON DELETE CASCADE,
  ADD FOREIGN KEY (on_choice_id) REFERENCES choice (id) ON DELETE CASCADE;
