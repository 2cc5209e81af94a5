-- Who has opened an e-mail is asked of everybody.
ALTER TABLE mail ADD KEY (opened_at, person_id);
