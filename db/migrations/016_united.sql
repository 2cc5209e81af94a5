-- Two persons who turn out to be one, and what was taken over, so that it can be given back.
CREATE TABLE united (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NOT NULL COMMENT 'who stays',
  other_id INT UNSIGNED NOT NULL COMMENT 'who was taken in',
  at DATETIME(3) NOT NULL COMMENT 'business time',
  moved MEDIUMTEXT NOT NULL COMMENT 'JSON: keys of the rows that were taken over, by table',
  undone_at DATETIME(3) NULL,
  KEY (person_id),
  KEY (other_id),
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE,
  FOREIGN KEY (other_id) REFERENCES person (id) ON DELETE CASCADE
);
ALTER TABLE person ADD united_with INT UNSIGNED NULL COMMENT 'taken into this one';
