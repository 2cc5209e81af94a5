-- The plain text of an e-mail, where it was written by hand, and what a field was called before.
ALTER TABLE sequence_mail ADD plain TEXT NOT NULL DEFAULT '';
ALTER TABLE field ADD former VARCHAR(2000) NOT NULL DEFAULT '[]' COMMENT 'JSON: what personal words in subjects may still call it';
