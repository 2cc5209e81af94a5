-- Legal pages, each as it is being written and as it is shown; and what stands at the school's own address.

CREATE TABLE legal_page (
  kind VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY COMMENT 'imprint, privacy or terms',
  draft MEDIUMTEXT NOT NULL COMMENT 'sanitised HTML',
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  shown MEDIUMTEXT NULL COMMENT 'what visitors read; null: nothing yet',
  shown_at DATETIME(3) NULL COMMENT 'business time'
) COMMENT 'imprint, privacy and terms of the school';

ALTER TABLE school
  ADD front_funnel_id INT UNSIGNED NULL COMMENT 'whose first page stands at /; null: a front page made from what is live',
  ADD FOREIGN KEY (front_funnel_id) REFERENCES funnel (id) ON DELETE SET NULL;
