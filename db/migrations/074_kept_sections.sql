-- Sections that are written once and stand on many pages.
CREATE TABLE kept_section (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  page MEDIUMTEXT NOT NULL COMMENT 'what is being written: a document of blocks, JSON',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  live MEDIUMTEXT NOT NULL COMMENT 'what pages show of it: a document of blocks, JSON',
  UNIQUE KEY (name)
) COMMENT 'sections kept for use on several pages';

ALTER TABLE page_version ADD section_id INT UNSIGNED NULL AFTER lesson_id, ADD KEY (section_id, id), ADD FOREIGN KEY (section_id) REFERENCES kept_section (id) ON DELETE CASCADE;
ALTER TABLE page_open ADD section_id INT UNSIGNED NULL AFTER lesson_id, ADD KEY (section_id, seen_at), ADD FOREIGN KEY (section_id) REFERENCES kept_section (id) ON DELETE CASCADE;
ALTER TABLE reference
  ADD from_section_id INT UNSIGNED NULL, ADD FOREIGN KEY (from_section_id) REFERENCES kept_section (id) ON DELETE CASCADE,
  ADD section_id INT UNSIGNED NULL, ADD FOREIGN KEY (section_id) REFERENCES kept_section (id) ON DELETE CASCADE;
ALTER TABLE reference
  DROP CONSTRAINT CONSTRAINT_1,
  ADD CHECK ((offer_id IS NOT NULL) + (course_id IS NOT NULL) + (lesson_id IS NOT NULL) + (media_id IS NOT NULL) + (sequence_id IS NOT NULL) + (tag_id IS NOT NULL) + (to_step_id IS NOT NULL) + (field_id IS NOT NULL) + (choice_id IS NOT NULL) + (webinar_id IS NOT NULL) + (segment_id IS NOT NULL) + (teacher_id IS NOT NULL) + (section_id IS NOT NULL) = 1);
