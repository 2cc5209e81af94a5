-- When the school writes of its own accord, and how much of it one person gets.
ALTER TABLE school
  ADD manners TEXT NULL COMMENT 'JSON: hours, days, limits; null: none',
  ADD mail_paused_at DATETIME(3) NULL COMMENT 'business time: since then nothing is sent that nobody asked for just now';
ALTER TABLE person ADD mail_paused_at DATETIME(3) NULL COMMENT 'business time: nothing of sequences and broadcasts is sent to them';
ALTER TABLE sequence ADD goes ENUM('asked', 'first', 'usual', 'last') NOT NULL DEFAULT 'usual' COMMENT 'asked: its readers signed up for these e-mails, which know no manners';
-- What there is already goes on as it went.
UPDATE sequence SET goes = 'asked';

-- One e-mail to many.
CREATE TABLE broadcast (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  state ENUM('draft', 'planned', 'paused', 'stopped', 'sent') NOT NULL DEFAULT 'draft',
  document MEDIUMTEXT NOT NULL COMMENT 'JSON: to whom, when, which subjects, the e-mail itself; never changed once it is planned',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  winner TINYINT UNSIGNED NULL COMMENT 'the subject that the rest gets, where several were tried',
  made_at DATETIME(3) NOT NULL,
  planned_at DATETIME(3) NULL COMMENT 'when it was planned',
  begins_at DATETIME(3) NULL COMMENT 'when the first can get it',
  KEY (state)
);

ALTER TABLE mail
  ADD goes ENUM('asked', 'first', 'usual', 'last') NULL COMMENT 'of sequences and broadcasts: how it follows the manners',
  ADD wanted_at DATETIME(3) NULL COMMENT 'when it was first due, where it has been held since',
  ADD broadcast_id INT UNSIGNED NULL,
  ADD variant TINYINT UNSIGNED NULL COMMENT 'which of several subjects; null: the one that won',
  ADD again TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'the second time, to whoever did not open the first',
  ADD opened_at DATETIME(3) NULL,
  ADD clicked_at DATETIME(3) NULL,
  ADD left_at DATETIME(3) NULL COMMENT 'when its reader left by its link',
  ADD KEY (broadcast_id, state),
  ADD FOREIGN KEY (broadcast_id) REFERENCES broadcast (id) ON DELETE SET NULL;
UPDATE mail SET goes = 'asked' WHERE sequence_mail_id IS NOT NULL;

CREATE TABLE mail_click (
  mail_id INT UNSIGNED NOT NULL,
  link SMALLINT UNSIGNED NOT NULL COMMENT '0: the button; from 1: the links of the text in their order',
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (mail_id, link),
  FOREIGN KEY (mail_id) REFERENCES mail (id) ON DELETE CASCADE
);

-- Why an e-mail did not go when it was due.
CREATE TABLE mail_hold (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  mail_id INT UNSIGNED NOT NULL,
  from_at DATETIME(3) NOT NULL,
  until_at DATETIME(3) NULL COMMENT 'null: until somebody lets it go on',
  why VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  KEY (mail_id),
  FOREIGN KEY (mail_id) REFERENCES mail (id) ON DELETE CASCADE
);
ALTER TABLE sequence_mail ADD preview VARCHAR(200) NOT NULL DEFAULT '' COMMENT 'what inboxes show after the subject';

-- What a reader doesn't want any more, while they take the rest.
CREATE TABLE unwanted (
  person_id INT UNSIGNED NOT NULL,
  what VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'broadcasts, or sequence:12',
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (person_id, what),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
);

ALTER TABLE reference
  ADD from_broadcast_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (from_broadcast_id) REFERENCES broadcast (id) ON DELETE CASCADE;
ALTER TABLE mail ADD bounced_at DATETIME(3) NULL;
