-- What the first long look found.

-- The same form sent twice is one order; the form of another page, release or visitor never is.
ALTER TABLE orders DROP KEY once, ADD UNIQUE KEY once (once, visitor, step_id, release_id);

ALTER TABLE `release` ADD replaced_at DATETIME(3) NULL COMMENT 'business time: visitors have had another since; null while it is live, or was never followed';

-- What an effect gave for an order carries that order, and never stands in the way of what a form gives.
UPDATE IGNORE admission SET origin = CONCAT('order:', order_id) WHERE order_id IS NOT NULL AND origin LIKE 'funnel:%';

ALTER TABLE order_line ADD credit BIGINT NOT NULL DEFAULT 0 COMMENT 'what was paid before for what this replaces, and counted here';

CREATE TABLE lesson_done_unproved (
  order_id INT UNSIGNED NOT NULL COMMENT 'the first order of the story by which a device was let in',
  lesson_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (order_id, lesson_id),
  FOREIGN KEY (order_id) REFERENCES orders (id),
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE
) COMMENT 'progress of a device that is only let into what was just taken; its person''s once the mailbox has proved it';

CREATE TABLE device (
  visitor BINARY(16) NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  proved_at DATETIME(3) NOT NULL COMMENT 'real time',
  PRIMARY KEY (visitor, person_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
) COMMENT 'browsers in which a mailbox has proved itself';

CREATE TABLE wrong_password (
  bucket VARBINARY(120) NOT NULL PRIMARY KEY COMMENT 'an account from a connection, or a connection',
  n INT UNSIGNED NOT NULL,
  last_at DATETIME(3) NOT NULL COMMENT 'real time',
  KEY (last_at)
) COMMENT 'how often in a row: each makes the wait before the next try longer';

CREATE TABLE studio_way_in (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  expires_at DATETIME(3) NOT NULL COMMENT 'real time',
  used_at DATETIME(3) NULL,
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) COMMENT 'links that sign somebody in to the studio, once, when the password is lost';

ALTER TABLE session ADD by_mail TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'begun by a link from the mailbox: a new password needs no old one';
ALTER TABLE mail
  MODIFY kind ENUM('confirm', 'way-in', 'sequence', 'receipt', 'mend-card', 'access-ended', 'refund', 'studio-way-in') NOT NULL,
  ADD studio_way_in_id INT UNSIGNED NULL,
  ADD no_answer TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'the last try got no answer: it is tried again as soon as the server answers',
  ADD FOREIGN KEY (studio_way_in_id) REFERENCES studio_way_in (id) ON DELETE CASCADE;

-- Two windows never overwrite each other silently: every saved thing carries its revision.
ALTER TABLE course ADD revision INT UNSIGNED NOT NULL DEFAULT 1;
ALTER TABLE lesson ADD revision INT UNSIGNED NOT NULL DEFAULT 1;
ALTER TABLE offer ADD revision INT UNSIGNED NOT NULL DEFAULT 1;
ALTER TABLE school ADD revision INT UNSIGNED NOT NULL DEFAULT 1;
ALTER TABLE sequence ADD revision INT UNSIGNED NOT NULL DEFAULT 1;
ALTER TABLE sequence_mail ADD revision INT UNSIGNED NOT NULL DEFAULT 1;
