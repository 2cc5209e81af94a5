-- Mail that arrives: keys that it is signed with, what was reported of it, and who isn't written to any more.
ALTER TABLE school
  ADD dkim_made_at DATETIME(3) NULL COMMENT 'when the keys in the data folder were made; null: mail isn''t signed',
  ADD spf_include VARCHAR(200) NOT NULL DEFAULT '' COMMENT 'what the mail provider wants included';

CREATE TABLE mail_report (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  mail_id INT UNSIGNED NOT NULL,
  kind ENUM('hard', 'soft', 'complaint') NOT NULL,
  status VARCHAR(12) NOT NULL DEFAULT '',
  says VARCHAR(300) NOT NULL DEFAULT '',
  at DATETIME(3) NOT NULL COMMENT 'business time',
  UNIQUE KEY (mail_id, kind),
  KEY (at),
  FOREIGN KEY (mail_id) REFERENCES mail (id) ON DELETE CASCADE
);
ALTER TABLE address ADD soft_bounces TINYINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'in a row', ADD KEY (suppressed, suppressed_at);
ALTER TABLE mail ADD complained_at DATETIME(3) NULL;
