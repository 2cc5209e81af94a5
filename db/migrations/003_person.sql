-- Who the school knows: people, their addresses, what they agreed to, what they may open.

CREATE TABLE person (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL DEFAULT '',
  email VARCHAR(320) NOT NULL DEFAULT '' COMMENT 'the address shown first; the truth stands in address',
  zone VARCHAR(64) NOT NULL,
  joined_at DATETIME(3) NOT NULL,
  source VARCHAR(80) NOT NULL DEFAULT '' COMMENT 'where they first came from',
  searched VARCHAR(300) COLLATE utf8mb4_bin NOT NULL DEFAULT '' COMMENT 'name and addresses, folded',
  KEY by_joined (joined_at, id, searched),
  KEY by_name (name, id, searched),
  KEY by_email (email, id, searched)
);

CREATE TABLE address (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  email VARCHAR(320) NOT NULL COMMENT 'as typed',
  canonical VARCHAR(320) COLLATE utf8mb4_bin NOT NULL,
  confirmed_at DATETIME(3) NOT NULL,
  suppressed ENUM('left', 'undeliverable') NULL,
  suppressed_at DATETIME(3) NULL,
  suppressed_why VARCHAR(400) NULL,
  UNIQUE KEY (canonical),
  KEY (person_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
);

CREATE TABLE consent (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  address_id INT UNSIGNED NOT NULL,
  kind ENUM('given', 'withdrawn') NOT NULL,
  at DATETIME(3) NOT NULL,
  asked_at DATETIME(3) NULL COMMENT 'when the form was sent',
  wording VARCHAR(1000) NOT NULL DEFAULT '' COMMENT 'the words agreed to, as they stood',
  ip VARCHAR(45) NOT NULL DEFAULT '',
  page VARCHAR(300) NOT NULL DEFAULT '',
  KEY (address_id, at),
  FOREIGN KEY (address_id) REFERENCES address (id) ON DELETE CASCADE
) COMMENT 'append-only record of consent';

CREATE TABLE tag (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  UNIQUE KEY (name)
);

CREATE TABLE person_tag (
  person_id INT UNSIGNED NOT NULL,
  tag_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  joined_at DATETIME(3) NOT NULL COMMENT 'copy of the person''s, so that a filtered list pages by index',
  PRIMARY KEY (person_id, tag_id),
  KEY (tag_id, joined_at, person_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (tag_id) REFERENCES tag (id) ON DELETE CASCADE
);

CREATE TABLE admission (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  course_id INT UNSIGNED NOT NULL,
  origin VARCHAR(60) NOT NULL COMMENT 'what gave it, such as funnel:12',
  from_at DATETIME(3) NOT NULL,
  until_at DATETIME(3) NULL,
  UNIQUE KEY (person_id, course_id, origin),
  KEY (course_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id)
);

CREATE TABLE lesson_done (
  person_id INT UNSIGNED NOT NULL,
  lesson_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (person_id, lesson_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE
);

CREATE TABLE session (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  realm ENUM('studio', 'learn') NOT NULL,
  account_id INT UNSIGNED NULL,
  person_id INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL COMMENT 'real time',
  expires_at DATETIME(3) NOT NULL COMMENT 'real time',
  KEY (expires_at),
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE,
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  CHECK ((realm = 'studio') = (account_id IS NOT NULL) AND (realm = 'learn') = (person_id IS NOT NULL))
);

CREATE TABLE way_in (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  leads_to VARCHAR(300) NOT NULL COMMENT 'a path of ours',
  expires_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
) COMMENT 'links that sign somebody in, once; the link is the id under our signature';
