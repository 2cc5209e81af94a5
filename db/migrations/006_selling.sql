-- Selling. Without double opt-in an address is known before its mailbox has proved itself.

ALTER TABLE address MODIFY confirmed_at DATETIME(3) NULL COMMENT 'when its mailbox proved itself; null: it has not yet';
ALTER TABLE pending_join ADD KEY (expires_at);
