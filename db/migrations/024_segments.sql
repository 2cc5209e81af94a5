-- Segments: questions about people that are kept by name.
CREATE TABLE segment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  question TEXT NOT NULL DEFAULT '{"match":"all","parts":[]}' COMMENT 'JSON',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  made_at DATETIME(3) NOT NULL,
  KEY (name)
);

ALTER TABLE reference
  ADD from_segment_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (from_segment_id) REFERENCES segment (id) ON DELETE CASCADE;
