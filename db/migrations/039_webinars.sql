-- Webinars: what they are, when they are, who has a seat, and who was there.
CREATE TABLE webinar (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  document MEDIUMTEXT NOT NULL COMMENT 'JSON',
  seats INT UNSIGNED NULL COMMENT 'for one date, as the document says; null: as many as come',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  dated_until DATETIME(3) NULL COMMENT 'business time: up to here the dates of its rule stand in webinar_date',
  made_at DATETIME(3) NOT NULL,
  KEY (dated_until)
);

ALTER TABLE reference
  ADD from_webinar_id INT UNSIGNED NULL,
  ADD webinar_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (from_webinar_id) REFERENCES webinar (id) ON DELETE CASCADE,
  ADD FOREIGN KEY (webinar_id) REFERENCES webinar (id) ON DELETE CASCADE;
ALTER TABLE reference
  DROP CONSTRAINT CONSTRAINT_1,
  ADD CHECK ((offer_id IS NOT NULL) + (course_id IS NOT NULL) + (lesson_id IS NOT NULL) + (media_id IS NOT NULL) + (sequence_id IS NOT NULL) + (tag_id IS NOT NULL) + (to_step_id IS NOT NULL) + (field_id IS NOT NULL) + (choice_id IS NOT NULL) + (webinar_id IS NOT NULL) = 1);

CREATE TABLE webinar_date (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  webinar_id INT UNSIGNED NOT NULL,
  planned_at DATETIME(3) NOT NULL COMMENT 'when its rule or list has it; stays when it is moved',
  starts_at DATETIME(3) NOT NULL,
  minutes SMALLINT UNSIGNED NOT NULL,
  called_off_at DATETIME(3) NULL,
  settled_at DATETIME(3) NULL COMMENT 'when it was worked out who had been there',
  UNIQUE (webinar_id, planned_at),
  KEY (starts_at),
  KEY (settled_at, starts_at),
  FOREIGN KEY (webinar_id) REFERENCES webinar (id) ON DELETE CASCADE
);

-- Which starts a visitor was shown, where a webinar begins whenever it suits.
CREATE TABLE webinar_offered (
  webinar_id INT UNSIGNED NOT NULL,
  visitor BINARY(16) NOT NULL,
  starts VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'JSON: ms since 1970',
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (webinar_id, visitor),
  KEY (at),
  FOREIGN KEY (webinar_id) REFERENCES webinar (id) ON DELETE CASCADE
);

CREATE TABLE registration (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  webinar_id INT UNSIGNED NOT NULL,
  date_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NULL COMMENT 'null: held for an address that has not proved itself',
  pending_join_id INT UNSIGNED NULL,
  visitor BINARY(16) NULL COMMENT 'who registered on a page',
  state ENUM('held', 'registered', 'given-up', 'called-off') NOT NULL,
  held_until DATETIME(3) NULL,
  sequence INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how often its date was changed (RFC 5545, SEQUENCE)',
  made_at DATETIME(3) NOT NULL,
  came ENUM('attended', 'left-early', 'missed') NULL COMMENT 'null: not known yet',
  there_ms INT UNSIGNED NOT NULL DEFAULT 0,
  UNIQUE (date_id, person_id),
  UNIQUE (pending_join_id),
  KEY (date_id, state, held_until),
  KEY (webinar_id, person_id),
  KEY (webinar_id, visitor),
  KEY (person_id),
  FOREIGN KEY (webinar_id) REFERENCES webinar (id) ON DELETE CASCADE,
  FOREIGN KEY (date_id) REFERENCES webinar_date (id) ON DELETE CASCADE,
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (pending_join_id) REFERENCES pending_join (id) ON DELETE SET NULL
);

-- When somebody's device was in the room: from its first beat to its last, until it was away.
CREATE TABLE stay (
  registration_id INT UNSIGNED NOT NULL,
  device BINARY(8) NOT NULL,
  from_at DATETIME(3) NOT NULL,
  to_at DATETIME(3) NOT NULL,
  PRIMARY KEY (registration_id, device, from_at),
  FOREIGN KEY (registration_id) REFERENCES registration (id) ON DELETE CASCADE
);

ALTER TABLE effect
  ADD on_webinar_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (on_webinar_id) REFERENCES webinar (id) ON DELETE CASCADE;

ALTER TABLE mail
  ADD registration_id INT UNSIGNED NULL,
  ADD not_after DATETIME(3) NULL COMMENT 'business time: from then on it is left out',
  ADD FOREIGN KEY (registration_id) REFERENCES registration (id) ON DELETE CASCADE;

CREATE TABLE room_message (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  date_id INT UNSIGNED NOT NULL,
  registration_id INT UNSIGNED NULL COMMENT 'null: the host',
  kind ENUM('chat', 'question') NOT NULL,
  words VARCHAR(500) NOT NULL,
  at DATETIME(3) NOT NULL,
  answered_at DATETIME(3) NULL,
  hidden_at DATETIME(3) NULL,
  KEY (date_id, id),
  FOREIGN KEY (date_id) REFERENCES webinar_date (id) ON DELETE CASCADE,
  FOREIGN KEY (registration_id) REFERENCES registration (id) ON DELETE CASCADE
);
