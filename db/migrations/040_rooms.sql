-- What a webinar's room has besides its recording: live dates, polls, answers by mail; and until when what belongs to a seat is there.
ALTER TABLE webinar_date
  ADD begun_at DATETIME(3) NULL COMMENT 'live: when the host began',
  ADD ended_at DATETIME(3) NULL COMMENT 'live: when the host ended it',
  ADD offered_at DATETIME(3) NULL COMMENT 'when the host showed the offer before its minute';
-- One that is live and runs on ends by itself an hour after its length.
ALTER TABLE webinar_date
  ADD over_at DATETIME(3) AS (COALESCE(ended_at, IF(begun_at IS NULL, starts_at + INTERVAL minutes MINUTE, begun_at + INTERVAL minutes + 60 MINUTE))) PERSISTENT,
  ADD KEY (settled_at, over_at);

ALTER TABLE webinar
  ADD coupon_id INT UNSIGNED NULL COMMENT 'as the document says: it counts for whoever has a seat, until their deadline',
  ADD FOREIGN KEY (coupon_id) REFERENCES coupon (id) ON DELETE SET NULL;

ALTER TABLE registration
  ADD deal_until DATETIME(3) NULL COMMENT 'when the price for this seat ends, once it was told',
  ADD replay_until DATETIME(3) NULL COMMENT 'when the replay ends for this seat, once it was told',
  ADD saw_offer_at DATETIME(3) NULL,
  ADD pressed_at DATETIME(3) NULL;

ALTER TABLE room_message ADD answer VARCHAR(2000) NULL COMMENT 'given afterwards, by mail';
ALTER TABLE mail
  ADD room_message_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (room_message_id) REFERENCES room_message (id) ON DELETE CASCADE;

CREATE TABLE poll (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  date_id INT UNSIGNED NOT NULL,
  plan SMALLINT UNSIGNED NULL COMMENT 'its id in the webinar; null: asked on the spot',
  question VARCHAR(200) NOT NULL,
  answers TEXT NOT NULL COMMENT 'JSON: texts',
  opened_at DATETIME(3) NOT NULL,
  closed_at DATETIME(3) NULL,
  UNIQUE (date_id, plan),
  FOREIGN KEY (date_id) REFERENCES webinar_date (id) ON DELETE CASCADE
);

CREATE TABLE poll_vote (
  poll_id INT UNSIGNED NOT NULL,
  registration_id INT UNSIGNED NOT NULL,
  answer TINYINT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (poll_id, registration_id),
  KEY (registration_id),
  FOREIGN KEY (poll_id) REFERENCES poll (id) ON DELETE CASCADE,
  FOREIGN KEY (registration_id) REFERENCES registration (id) ON DELETE CASCADE
);

ALTER TABLE school ADD calendar_address INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how often an address for the calendar was made; the last one works; 0: there is none';
