-- E-mails are pages of blocks; one that has none is its text.
ALTER TABLE sequence_mail ADD page MEDIUMTEXT NULL COMMENT 'a document of blocks, JSON, of which its body is made; NULL: it is its body';
ALTER TABLE broadcast ADD page MEDIUMTEXT NULL COMMENT 'a document of blocks, JSON, of which its body is made; NULL: it is its body';

ALTER TABLE page_version
  ADD mail_id INT UNSIGNED NULL AFTER section_id, ADD KEY (mail_id, id), ADD FOREIGN KEY (mail_id) REFERENCES sequence_mail (id) ON DELETE CASCADE,
  ADD broadcast_id INT UNSIGNED NULL AFTER mail_id, ADD KEY (broadcast_id, id), ADD FOREIGN KEY (broadcast_id) REFERENCES broadcast (id) ON DELETE CASCADE;
ALTER TABLE page_open
  ADD mail_id INT UNSIGNED NULL AFTER section_id, ADD KEY (mail_id, seen_at), ADD FOREIGN KEY (mail_id) REFERENCES sequence_mail (id) ON DELETE CASCADE,
  ADD broadcast_id INT UNSIGNED NULL AFTER mail_id, ADD KEY (broadcast_id, seen_at), ADD FOREIGN KEY (broadcast_id) REFERENCES broadcast (id) ON DELETE CASCADE;
