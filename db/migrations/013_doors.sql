-- Learners see the devices on which they are signed in, and end them.
ALTER TABLE session
  ADD agent VARCHAR(200) NULL COMMENT 'the browser as it called itself',
  ADD seen_at DATETIME(3) NULL COMMENT 'real time: to the hour',
  ADD KEY (person_id, expires_at);
