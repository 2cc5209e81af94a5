-- Whoever works in the school is mailed what the week before brought, each Monday, where they want it.

ALTER TABLE account ADD mails_report TINYINT(1) NOT NULL DEFAULT 0;
