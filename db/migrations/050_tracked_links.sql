-- Links to pages that say where they stand: whoever comes by one is counted under its source.
CREATE TABLE tracked_link (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  step_id INT UNSIGNED NOT NULL,
  source VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
  campaign VARCHAR(60) COLLATE utf8mb4_bin NOT NULL DEFAULT '',
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY (step_id, source, campaign),
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE CASCADE
);
