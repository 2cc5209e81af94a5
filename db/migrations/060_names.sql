-- Who lets pages say their first name, as one of those who joined lately.

ALTER TABLE person
  ADD name_shown_at DATETIME(3) NULL COMMENT 'since when they let pages say their first name; null: they don''t';
