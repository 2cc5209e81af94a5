-- Who did it stands beside what happened.
ALTER TABLE fact ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'account:3, person:12, affiliate:2, worker; null: a stranger, or from before',
  ADD data JSON NULL COMMENT 'what else is known of it';
ALTER TABLE funnel_before ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL;
ALTER TABLE `release` ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL;

-- Whatever must happen later, once.
CREATE TABLE timer (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(80) COLLATE utf8mb4_bin NOT NULL COMMENT 'makes the second time harmless',
  kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  about INT UNSIGNED NOT NULL COMMENT 'the order, admission … it is about, by kind',
  due_at DATETIME(3) NOT NULL COMMENT 'business time',
  try_at DATETIME(3) NOT NULL COMMENT 'real time: not before, where a try has failed',
  tries SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  UNIQUE KEY (once),
  KEY (due_at, id)
);
INSERT INTO timer (once, kind, about, due_at, try_at)
SELECT CONCAT('stopped:', id), 'stopped', id, made_at + INTERVAL 1 HOUR, '1970-01-01' FROM orders
WHERE state IN ('begun', 'open', 'confirming', 'refused', 'lapsed') AND first_id IS NULL AND wording <> '' AND stopped_at IS NULL;

-- A kind is a word of the code's lists, and needs no migration.
ALTER TABLE mail MODIFY kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
