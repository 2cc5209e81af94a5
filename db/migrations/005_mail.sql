-- What is asked for, what is sent, and to whom it is still owed.

CREATE TABLE knock (
  canonical VARCHAR(320) COLLATE utf8mb4_bin NOT NULL,
  purpose VARCHAR(40) NOT NULL COMMENT 'funnel:12, or learn',
  mailed_at DATETIME(3) NULL COMMENT 'real time',
  PRIMARY KEY (canonical, purpose)
) COMMENT 'keeps it to one mail in ten minutes, whoever asks';

CREATE TABLE pending_join (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  canonical VARCHAR(320) COLLATE utf8mb4_bin NOT NULL,
  email VARCHAR(320) NOT NULL,
  name VARCHAR(120) NOT NULL,
  zone VARCHAR(64) NOT NULL,
  wording VARCHAR(1000) NOT NULL,
  ip VARCHAR(45) NOT NULL,
  page VARCHAR(300) NOT NULL,
  funnel_id INT UNSIGNED NOT NULL,
  release_id INT UNSIGNED NOT NULL,
  step_id INT UNSIGNED NOT NULL COMMENT 'the step whose form was sent',
  inbox_step_id INT UNSIGNED NOT NULL COMMENT 'where confirming happens',
  visitor BINARY(16) NOT NULL,
  asked_at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  pressed_at DATETIME(3) NULL,
  KEY (canonical, funnel_id),
  FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE CASCADE,
  FOREIGN KEY (release_id) REFERENCES `release` (id) ON DELETE CASCADE
) COMMENT 'typed by a stranger; proves nothing until the link, its id under our signature, is pressed';

CREATE TABLE enrolment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL,
  sequence_id INT UNSIGNED NOT NULL,
  release_id INT UNSIGNED NOT NULL,
  begun_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  ended_why VARCHAR(60) NULL,
  UNIQUE KEY (person_id, sequence_id),
  KEY (sequence_id, ended_at),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (sequence_id) REFERENCES sequence (id) ON DELETE CASCADE,
  FOREIGN KEY (release_id) REFERENCES `release` (id)
) COMMENT 'a person on their way through a sequence';

CREATE TABLE mail (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(120) COLLATE utf8mb4_bin NOT NULL COMMENT 'makes the second time harmless',
  kind ENUM('confirm', 'way-in', 'sequence') NOT NULL,
  person_id INT UNSIGNED NULL,
  to_email VARCHAR(320) NOT NULL,
  to_name VARCHAR(120) NOT NULL DEFAULT '',
  funnel_id INT UNSIGNED NULL,
  enrolment_id INT UNSIGNED NULL,
  sequence_mail_id INT UNSIGNED NULL,
  position INT NULL,
  pending_join_id INT UNSIGNED NULL,
  way_in_id INT UNSIGNED NULL,
  state ENUM('due', 'sending', 'sent', 'unsure', 'rejected', 'cancelled', 'held') NOT NULL DEFAULT 'due',
  due_at DATETIME(3) NOT NULL COMMENT 'business time',
  try_at DATETIME(3) NOT NULL COMMENT 'real time: not before; also the lease while claimed',
  tries SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  claimed_by VARCHAR(60) NULL,
  message_id VARCHAR(200) NULL,
  subject VARCHAR(300) NULL COMMENT 'as sent',
  sent_at DATETIME(3) NULL COMMENT 'business time',
  trouble VARCHAR(400) NULL,
  UNIQUE KEY (once),
  KEY claim (state, due_at, id),
  KEY (person_id, id),
  KEY (enrolment_id),
  KEY (sequence_mail_id, state),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (enrolment_id) REFERENCES enrolment (id) ON DELETE CASCADE,
  FOREIGN KEY (pending_join_id) REFERENCES pending_join (id) ON DELETE CASCADE,
  FOREIGN KEY (way_in_id) REFERENCES way_in (id) ON DELETE CASCADE
);
