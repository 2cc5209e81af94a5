-- Approval is a programme's: somebody may be an affiliate already and wait for another programme.
ALTER TABLE affiliate_in ADD waits TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'asked to join, and not approved yet';
CREATE VIEW affiliate_part AS SELECT affiliate_id, offer_id, rate, agreed_version, agreed_at FROM affiliate_in WHERE waits = 0;
-- A name that shows on the school's pages is changed once the school has said yes.
ALTER TABLE affiliate ADD wanted_name VARCHAR(120) NULL COMMENT 'what they want to be called from now on';
