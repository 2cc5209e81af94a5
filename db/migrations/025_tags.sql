-- A tag that was merged into another stays as its other number: what was published still names it.
ALTER TABLE tag
  ADD merged_into INT UNSIGNED NULL,
  ADD FOREIGN KEY (merged_into) REFERENCES tag (id) ON DELETE CASCADE;
