-- Who has opened an e-mail is asked of everybody, and which has been held for long.
ALTER TABLE mail ADD KEY (opened_at, person_id), ADD KEY (state, wanted_at);

-- A sequence can come from another name than the school's, and be answered elsewhere.
ALTER TABLE sequence
  ADD from_name VARCHAR(120) NOT NULL DEFAULT '' COMMENT 'empty: the school''s sender',
  ADD reply_to VARCHAR(254) NOT NULL DEFAULT '' COMMENT 'empty: the address it comes from';
