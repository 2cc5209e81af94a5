-- A course has modules, opens bit by bit, and says what whoever may not open it meets.
CREATE TABLE module (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  course_id INT UNSIGNED NOT NULL,
  position INT NOT NULL COMMENT 'among modules and lessons of its course',
  title VARCHAR(160) NOT NULL,
  opens TEXT NULL COMMENT 'JSON: when its lessons open; null: as the course says',
  removed_at DATETIME(3) NULL COMMENT 'taken out, and can be put back',
  KEY (course_id, position),
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE
);

ALTER TABLE course
  MODIFY state ENUM('draft', 'announced', 'live', 'closed') NOT NULL DEFAULT 'draft',
  ADD starts DATE NULL COMMENT 'announced: nothing opens before this day on the learner''s calendar',
  ADD opens TEXT NOT NULL DEFAULT '{"kind":"at-once"}' COMMENT 'JSON: when its lessons open',
  ADD in_order TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'a lesson opens when those required before it are done',
  ADD done_by VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'pressed' COMMENT 'what makes a lesson done',
  ADD open_to_all TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'without signing in',
  ADD tells TINYINT(1) NOT NULL DEFAULT 1 COMMENT 'a mail goes when the next part opens',
  ADD gates TEXT NOT NULL DEFAULT '{}' COMMENT 'JSON: what whoever may not open it meets, by who they are';

ALTER TABLE lesson
  MODIFY state ENUM('draft', 'live', 'removed') NOT NULL DEFAULT 'draft',
  ADD module_id INT UNSIGNED NULL,
  ADD opens TEXT NULL COMMENT 'JSON; null: as its module says',
  ADD free TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'a taste: open to everybody',
  ADD required TINYINT(1) NOT NULL DEFAULT 1,
  ADD done_by VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'null: as the course says',
  ADD gates TEXT NOT NULL DEFAULT '{}',
  ADD FOREIGN KEY (module_id) REFERENCES module (id) ON DELETE SET NULL;

ALTER TABLE school ADD gates TEXT NOT NULL DEFAULT '{}' COMMENT 'JSON: what whoever may not open something meets, where its course doesn''t say';

CREATE TABLE plan_before (
  course_id INT UNSIGNED NOT NULL,
  until_at DATETIME(3) NOT NULL COMMENT 'business time: it was in force until then',
  plan MEDIUMTEXT NOT NULL COMMENT 'JSON: a CoursePlan',
  PRIMARY KEY (course_id, until_at),
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE
) COMMENT 'plans of a course that were in force: what they opened to somebody stays open';

CREATE TABLE lesson_seen (
  person_id INT UNSIGNED NOT NULL,
  lesson_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL COMMENT 'the first look',
  last_at DATETIME(3) NOT NULL,
  PRIMARY KEY (person_id, lesson_id),
  KEY (lesson_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE
);
INSERT INTO lesson_seen (person_id, lesson_id, at, last_at)
SELECT f.person_id, f.subject_id, MIN(f.at), MAX(f.at) FROM fact f JOIN lesson l ON l.id = f.subject_id
WHERE f.kind = 'lesson-opened' AND f.person_id IS NOT NULL AND f.data IS NULL GROUP BY 1, 2;

ALTER TABLE admission
  ADD module_id INT UNSIGNED NULL COMMENT 'one module of the course; null: all of it',
  ADD of_module INT UNSIGNED AS (COALESCE(module_id, 0)) VIRTUAL,
  ADD KEY (from_at),
  ADD UNIQUE KEY once (person_id, course_id, of_module, origin),
  DROP KEY person_id,
  ADD FOREIGN KEY (module_id) REFERENCES module (id) ON DELETE CASCADE;

CREATE TABLE invitation (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  course_id INT UNSIGNED NOT NULL,
  module_id INT UNSIGNED NULL,
  name VARCHAR(120) NOT NULL COMMENT 'whom it is for',
  most INT UNSIGNED NULL COMMENT 'how many may use it; null: any number',
  used INT UNSIGNED NOT NULL DEFAULT 0,
  until_at DATETIME(3) NULL COMMENT 'not after',
  days INT UNSIGNED NULL COMMENT 'how long what it gives lasts; null: without an end',
  made_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE,
  FOREIGN KEY (module_id) REFERENCES module (id) ON DELETE CASCADE
) COMMENT 'links that let whoever opens them into a course; the link is the id under our signature';

ALTER TABLE person ADD password_hash VARCHAR(200) NULL COMMENT 'Argon2id; null: signs in by mailed links only';
