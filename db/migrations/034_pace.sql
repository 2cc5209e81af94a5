-- How fast mail goes out: set by the school, and slowed where a receiver asks for it.
CREATE TABLE mail_pace (
  domain VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY COMMENT 'of receivers; empty: all of them together',
  free_at DATETIME(3) NOT NULL DEFAULT '1970-01-01' COMMENT 'real time: when the next may go',
  tail_at DATETIME(3) NOT NULL DEFAULT '1970-01-01' COMMENT 'real time: the turn of whoever is put off next',
  slowed TINYINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how often it was halved',
  slowed_at DATETIME(3) NULL COMMENT 'real time: when it last changed',
  says VARCHAR(400) NULL COMMENT 'what the receiver said'
);
ALTER TABLE school
  ADD mail_per_second SMALLINT UNSIGNED NULL COMMENT 'e-mails to everybody; null: as fast as they go',
  ADD mail_per_domain SMALLINT UNSIGNED NULL COMMENT 'e-mails to one receiving domain';
ALTER TABLE mail ADD paced TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'waits for its turn, or did';
