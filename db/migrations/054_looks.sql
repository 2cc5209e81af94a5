-- What the school wears is one of the looks with what it has of its own, as JSON; how light and how dark a picture is.
ALTER TABLE school MODIFY look VARCHAR(1000) NOT NULL DEFAULT 'kitchen-table';
ALTER TABLE `release` MODIFY look VARCHAR(1000) NOT NULL DEFAULT '' COMMENT 'what its pages were made in';
ALTER TABLE media
  ADD darkest CHAR(7) NULL COMMENT 'its darkest pixel where it is looked at small, #rrggbb; null: not known',
  ADD lightest CHAR(7) NULL COMMENT 'its lightest pixel';

CREATE TABLE worn (
  id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(3) NOT NULL COMMENT 'business time',
  look VARCHAR(1000) NOT NULL COMMENT 'what the school wears from then on, as JSON',
  actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'who chose it'
);
