-- Who has a page or a lesson open in the editor, by window.
CREATE TABLE page_open (
  window_id CHAR(36) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  step_id INT UNSIGNED NULL,
  lesson_id INT UNSIGNED NULL,
  account_id INT UNSIGNED NOT NULL,
  since DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL COMMENT 'in real time: a window that is gone says nothing',
  KEY (step_id, seen_at),
  KEY (lesson_id, seen_at),
  KEY (seen_at),
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) COMMENT 'pages that are being edited';
