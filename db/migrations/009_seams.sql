-- Who did it stands beside what happened.
ALTER TABLE fact ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'account:3, person:12, affiliate:2, worker; null: a stranger, or from before';
ALTER TABLE funnel_before ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL;
ALTER TABLE `release` ADD actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL;
