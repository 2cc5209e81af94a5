-- What sequences sent lately, and what came of it, stands in one key.
ALTER TABLE mail
  DROP KEY sequence_mail_id,
  ADD KEY sequence_mail_id (sequence_mail_id, state, sent_at, opened_at, clicked_at, left_at, person_id);
