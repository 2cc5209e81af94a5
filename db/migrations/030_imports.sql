-- People who came from a file.
CREATE TABLE person_import (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL COMMENT 'of the file',
  state ENUM('uploaded', 'running', 'done', 'stopped', 'taken-back') NOT NULL DEFAULT 'uploaded',
  bytes BIGINT UNSIGNED NOT NULL,
  reading VARCHAR(400) NOT NULL COMMENT 'JSON: encoding, what sets cells apart, whether there is a head',
  plan TEXT NULL COMMENT 'JSON: what each column is, tags, what they agreed to',
  lines_done INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'lines that are looked after',
  fresh INT UNSIGNED NOT NULL DEFAULT 0,
  known INT UNSIGNED NOT NULL DEFAULT 0,
  refused INT UNSIGNED NOT NULL DEFAULT 0,
  refused_bytes BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'of the file of refused lines, as far as it is sure',
  trouble VARCHAR(300) NULL,
  made_at DATETIME(3) NOT NULL COMMENT 'business time',
  done_at DATETIME(3) NULL,
  claimed_until DATETIME(3) NULL COMMENT 'real time: a worker has it in hand'
);

CREATE TABLE imported (
  import_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  fresh TINYINT(1) NOT NULL COMMENT 'whether they were made by it',
  PRIMARY KEY (import_id, person_id),
  KEY (person_id),
  FOREIGN KEY (import_id) REFERENCES person_import (id) ON DELETE CASCADE,
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
);

CREATE TABLE imported_tag (
  import_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  tag_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (import_id, person_id, tag_id),
  FOREIGN KEY (import_id) REFERENCES person_import (id) ON DELETE CASCADE,
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (tag_id) REFERENCES tag (id) ON DELETE CASCADE
);

-- Whoever was erased isn't taken in again by a file: only the hash of their address is kept.
CREATE TABLE erased (
  canonical_hash BINARY(32) NOT NULL PRIMARY KEY COMMENT 'HMAC-SHA-256 of the address under the secret of the school',
  at DATETIME(3) NOT NULL
);
