-- Funnels as they are being worked on, their releases, and what happens in them.

CREATE TABLE funnel (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  goal ENUM('mini-course') NOT NULL,
  made_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  live_release_id INT UNSIGNED NULL
);

CREATE TABLE step (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  kind ENUM('optin', 'inbox', 'welcome', 'learning') NOT NULL,
  name VARCHAR(120) NOT NULL,
  path VARCHAR(160) COLLATE utf8mb4_bin NOT NULL DEFAULT '' COMMENT 'address without the leading slash; empty for the learning area',
  position INT NOT NULL,
  course_id INT UNSIGNED NULL COMMENT 'the learning area opens here',
  page MEDIUMTEXT NULL COMMENT 'the page document being worked on, JSON',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  KEY (funnel_id, position),
  FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id)
);

CREATE TABLE stream (
  step_id INT UNSIGNED NOT NULL,
  outcome VARCHAR(20) NOT NULL,
  to_step_id INT UNSIGNED NULL,
  PRIMARY KEY (step_id, outcome),
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE CASCADE,
  FOREIGN KEY (to_step_id) REFERENCES step (id) ON DELETE SET NULL
);

CREATE TABLE sequence (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  name VARCHAR(120) NOT NULL,
  state ENUM('draft', 'live') NOT NULL DEFAULT 'live',
  leave_line VARCHAR(200) NOT NULL COMMENT 'the words of the link that unsubscribes',
  FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE CASCADE
);

CREATE TABLE sequence_mail (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL,
  position INT NOT NULL,
  after_days SMALLINT UNSIGNED NOT NULL,
  at_minute SMALLINT UNSIGNED NULL COMMENT 'minute of the reader''s day; null: at once',
  subject VARCHAR(200) NOT NULL,
  body MEDIUMTEXT NOT NULL COMMENT 'sanitised HTML with chips',
  button VARCHAR(80) NOT NULL DEFAULT '',
  lesson_id INT UNSIGNED NULL COMMENT 'where the button leads',
  KEY (sequence_id, position),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE SET NULL
);

CREATE TABLE effect (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  step_id INT UNSIGNED NOT NULL,
  outcome VARCHAR(20) NOT NULL,
  kind ENUM('tag-on', 'tag-off', 'begin-sequence', 'end-sequence', 'open-course') NOT NULL,
  tag_id INT UNSIGNED NULL,
  sequence_id INT UNSIGNED NULL,
  course_id INT UNSIGNED NULL,
  KEY (step_id, outcome),
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE CASCADE,
  FOREIGN KEY (tag_id) REFERENCES tag (id) ON DELETE CASCADE,
  FOREIGN KEY (sequence_id) REFERENCES sequence (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id)
);

CREATE TABLE `release` (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  snapshot MEDIUMTEXT NOT NULL COMMENT 'the whole funnel, JSON, never changed',
  pages MEDIUMTEXT NOT NULL COMMENT 'its compiled pages, JSON',
  fingerprint BINARY(32) NOT NULL COMMENT 'SHA-256 of the snapshot: tells whether the draft has moved on',
  UNIQUE KEY (funnel_id, number),
  FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE CASCADE
);
ALTER TABLE funnel ADD FOREIGN KEY (live_release_id) REFERENCES `release` (id) ON DELETE SET NULL;

CREATE TABLE live_page (
  path VARCHAR(160) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  release_id INT UNSIGNED NOT NULL,
  step_id INT UNSIGNED NOT NULL,
  FOREIGN KEY (release_id) REFERENCES `release` (id) ON DELETE CASCADE
) COMMENT 'what stands at which public address now';

CREATE TABLE journey (
  funnel_id INT UNSIGNED NOT NULL,
  visitor BINARY(16) NOT NULL COMMENT 'first-party random id',
  person_id INT UNSIGNED NULL,
  source VARCHAR(80) NOT NULL,
  begun_at DATETIME(3) NOT NULL,
  rest_step_id INT UNSIGNED NOT NULL COMMENT 'the furthest step they have reached',
  rest_at DATETIME(3) NOT NULL,
  PRIMARY KEY (funnel_id, visitor),
  KEY (person_id, funnel_id),
  KEY (funnel_id, rest_at, rest_step_id, begun_at)
) COMMENT 'one visitor, later person, in one funnel';

CREATE TABLE fact (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once BINARY(16) NULL COMMENT 'what can happen only once carries the hash of its key',
  at DATETIME(3) NOT NULL COMMENT 'business time',
  recorded_at DATETIME(3) NOT NULL COMMENT 'real time; no transaction lives longer than the horizon of the rollup',
  kind VARCHAR(24) NOT NULL,
  person_id INT UNSIGNED NULL,
  funnel_id INT UNSIGNED NULL,
  visitor BINARY(16) NULL,
  step_id INT UNSIGNED NULL,
  from_step_id INT UNSIGNED NULL,
  outcome VARCHAR(20) NULL,
  via ENUM('source', 'page', 'mail') NULL,
  source VARCHAR(80) NULL,
  begun_at DATETIME(3) NULL COMMENT 'when the journey began',
  subject_id INT UNSIGNED NULL COMMENT 'what it was about: a lesson, a mail, a tag, by kind',
  words VARCHAR(400) NULL,
  UNIQUE KEY (once),
  KEY (person_id, at),
  KEY (funnel_id, visitor),
  KEY (kind, at)
) COMMENT 'what happened; append-only';

CREATE TABLE river_flow (
  funnel_id INT UNSIGNED NOT NULL,
  quarter DATETIME NOT NULL COMMENT 'the quarter-hour of UTC in which the journey began',
  step_id INT UNSIGNED NOT NULL,
  from_step_id INT UNSIGNED NOT NULL DEFAULT 0,
  outcome VARCHAR(20) NOT NULL DEFAULT '',
  via ENUM('source', 'page', 'mail') NOT NULL,
  source VARCHAR(80) NOT NULL,
  n INT UNSIGNED NOT NULL,
  PRIMARY KEY (funnel_id, quarter, step_id, from_step_id, outcome, via, source)
) COMMENT 'facts of arrival, rolled up by quarter-hour';

CREATE TABLE rollup_mark (
  name VARCHAR(30) NOT NULL PRIMARY KEY,
  fact_id BIGINT UNSIGNED NOT NULL
);
INSERT INTO rollup_mark (name, fact_id) VALUES ('river', 0);
