-- A sequence that begins on a day for those of a question, and effects that hang on a coupon.
CREATE TABLE planned_beginning (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL,
  question TEXT NOT NULL COMMENT 'JSON: asked on that day',
  due_at DATETIME(3) NOT NULL COMMENT 'business time',
  up_to INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'the last person who was looked at',
  begun INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'for how many it began',
  done_at DATETIME(3) NULL,
  KEY (sequence_id, due_at),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id) ON DELETE CASCADE
);

ALTER TABLE effect
  ADD on_coupon_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (on_coupon_id) REFERENCES coupon (id) ON DELETE CASCADE;
