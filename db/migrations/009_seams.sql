-- Who did it stands beside what happened.
ALTER TABLE fact ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'account:3, person:12, affiliate:2, worker; null: a stranger, or from before',
  ADD data TEXT NULL COMMENT 'JSON: what else is known of it';
ALTER TABLE funnel_before ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL;
ALTER TABLE `release` ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL;

-- Whatever must happen later, once.
CREATE TABLE timer (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(80) COLLATE utf8mb4_bin NOT NULL COMMENT 'makes the second time harmless',
  kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  about INT UNSIGNED NOT NULL COMMENT 'the order, admission … it is about, by kind',
  due_at DATETIME(3) NOT NULL COMMENT 'business time',
  try_at DATETIME(3) NOT NULL COMMENT 'real time: not before, where a try has failed',
  tries SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  UNIQUE KEY (once),
  KEY (due_at, id)
);
INSERT INTO timer (once, kind, about, due_at, try_at)
SELECT CONCAT('stopped:', id), 'stopped', id, made_at + INTERVAL 1 HOUR, '1970-01-01' FROM orders
WHERE state IN ('begun', 'open', 'confirming', 'refused', 'lapsed') AND first_id IS NULL AND wording <> '' AND stopped_at IS NULL;

-- A kind is a word of the code's lists, and needs no migration.
ALTER TABLE mail MODIFY kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;

-- A step's settings are checked by its kind; an effect's, too.
ALTER TABLE step
  MODIFY kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ADD settings TEXT NOT NULL DEFAULT '{}' COMMENT 'JSON, by its kind';
UPDATE step SET settings = CASE kind
  WHEN 'learning' THEN JSON_OBJECT('course', course_id)
  WHEN 'checkout' THEN JSON_OBJECT('offer', offer_id)
  WHEN 'further' THEN JSON_OBJECT('offer', offer_id, 'terms', terms_id, 'replaces', IF(replaces, JSON_COMPACT('true'), JSON_COMPACT('false')), 'skipAs', skip_as)
  ELSE '{}' END;
ALTER TABLE effect
  MODIFY kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  ADD settings TEXT NOT NULL DEFAULT '{}' COMMENT 'JSON, by its kind';
UPDATE effect SET settings = CASE kind
  WHEN 'open-course' THEN JSON_OBJECT('course', course_id)
  WHEN 'begin-sequence' THEN JSON_OBJECT('sequence', sequence_id)
  WHEN 'end-sequence' THEN JSON_OBJECT('sequence', sequence_id)
  ELSE JSON_OBJECT('tag', tag_id) END;
ALTER TABLE offer_gift MODIFY kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;

-- What refers to what, written anew from each document whenever it is saved.
CREATE TABLE reference (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NULL COMMENT 'the funnel that the step, block or mail is of',
  step_id INT UNSIGNED NULL,
  block VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'the block of the step''s page',
  mail_id INT UNSIGNED NULL,
  effect_id INT UNSIGNED NULL,
  from_course_id INT UNSIGNED NULL,
  from_lesson_id INT UNSIGNED NULL,
  from_offer_id INT UNSIGNED NULL,
  offer_id INT UNSIGNED NULL,
  course_id INT UNSIGNED NULL,
  lesson_id INT UNSIGNED NULL,
  media_id INT UNSIGNED NULL,
  sequence_id INT UNSIGNED NULL,
  tag_id INT UNSIGNED NULL,
  to_step_id INT UNSIGNED NULL,
  say VARCHAR(40) NOT NULL COMMENT 'what for',
  CHECK ((offer_id IS NOT NULL) + (course_id IS NOT NULL) + (lesson_id IS NOT NULL) + (media_id IS NOT NULL) + (sequence_id IS NOT NULL) + (tag_id IS NOT NULL) + (to_step_id IS NOT NULL) = 1),
  FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE CASCADE,
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE CASCADE,
  FOREIGN KEY (mail_id) REFERENCES sequence_mail (id) ON DELETE CASCADE,
  FOREIGN KEY (effect_id) REFERENCES effect (id) ON DELETE CASCADE,
  FOREIGN KEY (from_course_id) REFERENCES course (id) ON DELETE CASCADE,
  FOREIGN KEY (from_lesson_id) REFERENCES lesson (id) ON DELETE CASCADE,
  FOREIGN KEY (from_offer_id) REFERENCES offer (id) ON DELETE CASCADE,
  FOREIGN KEY (offer_id) REFERENCES offer (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE,
  FOREIGN KEY (media_id) REFERENCES media (id),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id) ON DELETE CASCADE,
  FOREIGN KEY (tag_id) REFERENCES tag (id) ON DELETE CASCADE,
  FOREIGN KEY (to_step_id) REFERENCES step (id) ON DELETE CASCADE
) COMMENT 'from funnel, step, block, mail, lesson, course or offer to what its document names';

ALTER TABLE step
  DROP FOREIGN KEY step_ibfk_2, DROP FOREIGN KEY step_ibfk_3, DROP FOREIGN KEY step_ibfk_4,
  DROP COLUMN course_id, DROP COLUMN offer_id, DROP COLUMN terms_id, DROP COLUMN replaces, DROP COLUMN skip_as;

-- What sets an effect off: an outcome of a step, or anything else that happens in the school.
ALTER TABLE effect
  DROP FOREIGN KEY effect_ibfk_2, DROP FOREIGN KEY effect_ibfk_3, DROP FOREIGN KEY effect_ibfk_4,
  DROP COLUMN tag_id, DROP COLUMN sequence_id, DROP COLUMN course_id,
  MODIFY step_id INT UNSIGNED NULL,
  MODIFY outcome VARCHAR(20) NULL,
  ADD occasion VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'null: the outcome of the step',
  ADD on_offer_id INT UNSIGNED NULL,
  ADD on_tag_id INT UNSIGNED NULL,
  ADD on_lesson_id INT UNSIGNED NULL,
  ADD on_sequence_id INT UNSIGNED NULL,
  ADD KEY (occasion),
  ADD FOREIGN KEY (on_offer_id) REFERENCES offer (id) ON DELETE CASCADE,
  ADD FOREIGN KEY (on_tag_id) REFERENCES tag (id) ON DELETE CASCADE,
  ADD FOREIGN KEY (on_lesson_id) REFERENCES lesson (id) ON DELETE CASCADE,
  ADD FOREIGN KEY (on_sequence_id) REFERENCES sequence (id) ON DELETE CASCADE,
  ADD CHECK ((step_id IS NULL) = (outcome IS NULL) AND (step_id IS NULL) = (occasion IS NOT NULL));

-- Whether a draft has moved on is told by comparing it with what was published, however that was written down.
ALTER TABLE `release` DROP COLUMN fingerprint, ADD look VARCHAR(20) NOT NULL DEFAULT '' COMMENT 'the look its pages were made with';
UPDATE `release` SET look = COALESCE((SELECT look FROM school WHERE id = 1), '');

ALTER TABLE funnel DROP COLUMN goal;

-- A sequence can be begun again by somebody who has come to its end.
ALTER TABLE enrolment ADD run SMALLINT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'the how manieth time',
  ADD UNIQUE KEY once (person_id, sequence_id, run), DROP KEY person_id;
