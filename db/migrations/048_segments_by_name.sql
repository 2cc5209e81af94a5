-- A segment is asked for by its name, in other questions and in other segments.
ALTER TABLE reference
  ADD segment_id INT UNSIGNED NULL,
  DROP CONSTRAINT CONSTRAINT_1,
  ADD CHECK ((offer_id IS NOT NULL) + (course_id IS NOT NULL) + (lesson_id IS NOT NULL) + (media_id IS NOT NULL) + (sequence_id IS NOT NULL) + (tag_id IS NOT NULL) + (to_step_id IS NOT NULL) + (field_id IS NOT NULL) + (choice_id IS NOT NULL) + (webinar_id IS NOT NULL) + (segment_id IS NOT NULL) = 1),
  ADD FOREIGN KEY (segment_id) REFERENCES segment (id) ON DELETE CASCADE;
