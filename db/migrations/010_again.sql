-- A journey can be begun again, by somebody who comes back after a time that the funnel sets.
ALTER TABLE journey ADD run SMALLINT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'the how manieth time' AFTER visitor,
  DROP PRIMARY KEY, ADD PRIMARY KEY (funnel_id, visitor, run);
ALTER TABLE fact ADD run SMALLINT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'of the visitor''s journey';
ALTER TABLE funnel ADD again_after SMALLINT UNSIGNED NULL COMMENT 'days away after which a journey begins again; null: never';
