-- Who works in the school says what they are mailed.
ALTER TABLE account ADD mails_comments TINYINT(1) NOT NULL DEFAULT 1 COMMENT 'new comments of learners are mailed';
