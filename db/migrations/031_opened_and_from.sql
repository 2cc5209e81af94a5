-- Who has opened an e-mail is asked of everybody.
ALTER TABLE mail ADD KEY (opened_at, person_id);

-- A sequence can come from another name than the school's, and be answered elsewhere.
ALTER TABLE sequence
  ADD from_name VARCHAR(120) NOT NULL DEFAULT '' COMMENT 'empty: the school''s sender',
  ADD reply_to VARCHAR(254) NOT NULL DEFAULT '' COMMENT 'empty: the address it comes from';
