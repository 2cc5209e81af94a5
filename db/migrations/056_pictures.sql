-- What matters in a picture, around which it is cut, what it shows in words, and films of up to two gigabytes.

ALTER TABLE media
  MODIFY size BIGINT UNSIGNED NOT NULL COMMENT 'bytes',
  ADD focus_x TINYINT UNSIGNED NOT NULL DEFAULT 50 COMMENT 'what matters in a picture, hundredths of its width from its left',
  ADD focus_y TINYINT UNSIGNED NOT NULL DEFAULT 50 COMMENT 'hundredths of its height from its top',
  ADD alt VARCHAR(300) NOT NULL DEFAULT '' COMMENT 'what a picture shows, for whoever can''t see it: where it is chosen, it begins with this';
