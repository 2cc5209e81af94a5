-- Selling. Without double opt-in an address is known before its mailbox has proved itself.

ALTER TABLE address MODIFY confirmed_at DATETIME(3) NULL COMMENT 'when its mailbox proved itself; null: it has not yet';
ALTER TABLE pending_join ADD KEY (expires_at);

ALTER TABLE school
  ADD currency CHAR(3) NOT NULL DEFAULT 'EUR' COMMENT 'what a new offer is priced in',
  ADD tax_rate SMALLINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'hundredths of a percent',
  ADD tax_included TINYINT(1) NOT NULL DEFAULT 1 COMMENT 'whether prices are said with the tax inside',
  ADD statement VARCHAR(22) NOT NULL DEFAULT '' COMMENT 'what a card statement shows';

CREATE TABLE offer (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_name VARCHAR(120) NOT NULL,
  internal_name VARCHAR(120) NOT NULL DEFAULT '',
  promise VARCHAR(400) NOT NULL DEFAULT '',
  picture_id INT UNSIGNED NULL,
  currency CHAR(3) NOT NULL,
  pieces INT UNSIGNED NULL COMMENT 'in all; null: as many as are asked for',
  per_person INT UNSIGNED NULL,
  from_at DATETIME(3) NULL,
  until_at DATETIME(3) NULL,
  hidden TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'not listed anywhere; reachable by its link',
  after_failure ENUM('ends', 'stays') NOT NULL DEFAULT 'ends' COMMENT 'the access, when payments stop for good',
  removed_at DATETIME(3) NULL COMMENT 'no longer to be had; what was sold of it stays',
  made_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  FOREIGN KEY (picture_id) REFERENCES media (id)
);

CREATE TABLE offer_gift (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  offer_id INT UNSIGNED NOT NULL,
  position INT NOT NULL,
  kind ENUM('course', 'file', 'offer', 'post') NOT NULL,
  course_id INT UNSIGNED NULL,
  media_id INT UNSIGNED NULL,
  part_id INT UNSIGNED NULL COMMENT 'an offer within a bundle',
  words VARCHAR(200) NOT NULL DEFAULT '' COMMENT 'what is sent by post',
  KEY (offer_id, position),
  FOREIGN KEY (offer_id) REFERENCES offer (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id),
  FOREIGN KEY (media_id) REFERENCES media (id),
  FOREIGN KEY (part_id) REFERENCES offer (id),
  CHECK ((kind = 'course') = (course_id IS NOT NULL) AND (kind = 'file') = (media_id IS NOT NULL) AND (kind = 'offer') = (part_id IS NOT NULL))
);

CREATE TABLE offer_terms (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  offer_id INT UNSIGNED NOT NULL,
  position INT NOT NULL,
  name VARCHAR(80) NOT NULL DEFAULT '',
  terms TEXT NOT NULL COMMENT 'JSON, checked on the way in and out',
  KEY (offer_id, position),
  FOREIGN KEY (offer_id) REFERENCES offer (id) ON DELETE CASCADE
);

CREATE TABLE coupon (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  code VARCHAR(40) NOT NULL,
  code_key VARCHAR(40) COLLATE utf8mb4_bin NOT NULL COMMENT 'as compared: capitals and digits',
  given_out VARCHAR(120) NOT NULL COMMENT 'the place where it was given out',
  kind ENUM('percent', 'amount') NOT NULL,
  value INT UNSIGNED NOT NULL COMMENT 'hundredths of a percent, or minor units',
  currency CHAR(3) NULL,
  on_charges ENUM('first', 'all') NOT NULL,
  from_at DATETIME(3) NULL,
  until_at DATETIME(3) NULL,
  uses_in_all INT UNSIGNED NULL,
  uses_per_person INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY (code_key)
);

CREATE TABLE coupon_offer (
  coupon_id INT UNSIGNED NOT NULL,
  offer_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (coupon_id, offer_id),
  FOREIGN KEY (coupon_id) REFERENCES coupon (id) ON DELETE CASCADE,
  FOREIGN KEY (offer_id) REFERENCES offer (id) ON DELETE CASCADE
) COMMENT 'the offers a coupon counts for; none: all';

ALTER TABLE funnel MODIFY goal ENUM('mini-course', 'sell-course') NOT NULL;
ALTER TABLE step
  MODIFY kind ENUM('optin', 'inbox', 'sales', 'checkout', 'further', 'welcome', 'learning') NOT NULL,
  ADD offer_id INT UNSIGNED NULL COMMENT 'what a checkout or a further offer sells',
  ADD terms_id INT UNSIGNED NULL COMMENT 'the terms of a further offer',
  ADD replaces TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'a further offer takes the place of what was bought',
  ADD skip_as ENUM('accepted', 'declined') NOT NULL DEFAULT 'accepted' COMMENT 'how it goes on where it can not be offered',
  ADD FOREIGN KEY (offer_id) REFERENCES offer (id),
  ADD FOREIGN KEY (terms_id) REFERENCES offer_terms (id) ON DELETE SET NULL;

ALTER TABLE journey
  ADD paid BIGINT NOT NULL DEFAULT 0 COMMENT 'minor units paid on the way so far',
  ADD KEY resting (funnel_id, begun_at, rest_step_id, rest_at, paid);
ALTER TABLE fact
  ADD money BIGINT NOT NULL DEFAULT 0 COMMENT 'minor units: what a journey had paid when it arrived, or what this was about',
  ADD KEY way (funnel_id, from_step_id, outcome, visitor);
ALTER TABLE river_flow ADD money BIGINT NOT NULL DEFAULT 0 COMMENT 'what those journeys had paid by then';

CREATE TABLE card (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  reference VARCHAR(80) COLLATE utf8mb4_bin NOT NULL COMMENT 'the card as the processor knows it; its number never comes here',
  last4 CHAR(4) NOT NULL,
  expires CHAR(5) NOT NULL,
  UNIQUE KEY (reference)
);

CREATE TABLE orders (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  code CHAR(22) COLLATE utf8mb4_bin NOT NULL COMMENT 'in addresses: 128 random bits',
  once VARCHAR(40) COLLATE utf8mb4_bin NOT NULL COMMENT 'of the form that placed it, so that twice is once',
  first_id INT UNSIGNED NULL COMMENT 'the order that this further offer followed',
  state ENUM('begun', 'open', 'confirming', 'paid', 'refused', 'lapsed', 'refunded') NOT NULL,
  funnel_id INT UNSIGNED NULL,
  release_id INT UNSIGNED NULL,
  step_id INT UNSIGNED NOT NULL,
  visitor BINARY(16) NOT NULL,
  source VARCHAR(80) NOT NULL DEFAULT 'direct',
  person_id INT UNSIGNED NULL COMMENT 'known once it is paid',
  canonical VARCHAR(320) COLLATE utf8mb4_bin NOT NULL,
  email VARCHAR(320) NOT NULL,
  name VARCHAR(120) NOT NULL,
  postal VARCHAR(400) NOT NULL DEFAULT '',
  zone VARCHAR(64) NOT NULL,
  wording VARCHAR(1000) NOT NULL DEFAULT '' COMMENT 'what they agreed to be written about; empty: they did not',
  ip VARCHAR(45) NOT NULL DEFAULT '',
  coupon_id INT UNSIGNED NULL,
  currency CHAR(3) NOT NULL,
  net BIGINT NOT NULL COMMENT 'due on the first day',
  tax BIGINT NOT NULL,
  gross BIGINT NOT NULL,
  sentence VARCHAR(1000) NOT NULL COMMENT 'what they read and agreed to',
  card_id INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  paid_at DATETIME(3) NULL,
  hold_until DATETIME(3) NOT NULL COMMENT 'real time: seats are held no longer without asking the processor',
  stopped_at DATETIME(3) NULL COMMENT 'when those who stopped were taken care of',
  UNIQUE KEY (code),
  UNIQUE KEY (once),
  UNIQUE KEY (first_id, step_id),
  KEY (state, hold_until),
  KEY (made_at),
  KEY (person_id, id),
  KEY (canonical, id),
  KEY (funnel_id, visitor, id),
  KEY (coupon_id, state),
  FOREIGN KEY (first_id) REFERENCES orders (id),
  FOREIGN KEY (person_id) REFERENCES person (id),
  FOREIGN KEY (coupon_id) REFERENCES coupon (id),
  FOREIGN KEY (card_id) REFERENCES card (id)
) COMMENT 'one story of buying';

CREATE TABLE order_line (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  order_id INT UNSIGNED NOT NULL,
  offer_id INT UNSIGNED NOT NULL,
  role ENUM('main', 'bump', 'further') NOT NULL,
  name VARCHAR(120) NOT NULL COMMENT 'as it was then',
  plan TEXT NOT NULL COMMENT 'the plan as it was agreed to, JSON',
  gross BIGINT NOT NULL COMMENT 'due on the first day',
  posted_at DATETIME(3) NULL COMMENT 'when what goes by post was sent',
  KEY (order_id),
  KEY (offer_id, order_id),
  FOREIGN KEY (order_id) REFERENCES orders (id),
  FOREIGN KEY (offer_id) REFERENCES offer (id)
);

CREATE TABLE plan (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  order_line_id INT UNSIGNED NOT NULL,
  order_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  card_id INT UNSIGNED NULL,
  state ENUM('running', 'behind', 'ended', 'finished') NOT NULL,
  next_n INT UNSIGNED NOT NULL COMMENT 'the charge of the plan that comes next',
  next_due DATETIME(3) NOT NULL COMMENT 'when that falls due',
  try_at DATETIME(3) NOT NULL COMMENT 'business time of the next try: the due time, or 1, 3, 7 days on',
  failed TINYINT UNSIGNED NOT NULL DEFAULT 0,
  claimed_until DATETIME(3) NULL COMMENT 'real time: a worker has it in hand',
  ended_at DATETIME(3) NULL,
  ended_why VARCHAR(60) NULL,
  UNIQUE KEY (order_line_id),
  KEY due (state, try_at),
  KEY (person_id),
  KEY (order_id),
  FOREIGN KEY (order_line_id) REFERENCES order_line (id),
  FOREIGN KEY (order_id) REFERENCES orders (id),
  FOREIGN KEY (person_id) REFERENCES person (id),
  FOREIGN KEY (card_id) REFERENCES card (id)
) COMMENT 'what goes on being charged for an order line';

CREATE TABLE charge (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(80) COLLATE utf8mb4_bin NOT NULL COMMENT 'its idempotency key at the processor',
  order_id INT UNSIGNED NOT NULL,
  plan_id INT UNSIGNED NULL COMMENT 'null: the first charge of the order',
  n INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'its place in the plan',
  state ENUM('sending', 'confirming', 'succeeded', 'refused', 'abandoned') NOT NULL,
  net BIGINT NOT NULL,
  tax BIGINT NOT NULL,
  gross BIGINT NOT NULL,
  currency CHAR(3) NOT NULL,
  refunded BIGINT NOT NULL DEFAULT 0,
  payment VARCHAR(80) NULL COMMENT 'as the processor calls it',
  reason VARCHAR(40) NULL,
  confirm VARCHAR(400) NULL COMMENT 'the page of the bank',
  at DATETIME(3) NOT NULL,
  settled_at DATETIME(3) NULL,
  ask_at DATETIME(3) NOT NULL COMMENT 'real time: when the processor is asked how it stands',
  UNIQUE KEY (once),
  KEY (order_id),
  KEY (plan_id, n),
  KEY (state, ask_at),
  FOREIGN KEY (order_id) REFERENCES orders (id),
  FOREIGN KEY (plan_id) REFERENCES plan (id)
);

CREATE TABLE refund (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(80) COLLATE utf8mb4_bin NOT NULL COMMENT 'of the form that asked for it and its charge, so that twice is once',
  charge_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL,
  state ENUM('sending', 'done', 'refused') NOT NULL,
  access ENUM('stays', 'ends') NOT NULL,
  why VARCHAR(200) NOT NULL DEFAULT '',
  at DATETIME(3) NOT NULL,
  try_at DATETIME(3) NOT NULL COMMENT 'real time: when the processor is asked again',
  UNIQUE KEY (once),
  KEY (charge_id),
  KEY (state, try_at),
  FOREIGN KEY (charge_id) REFERENCES charge (id)
);

CREATE TABLE answer (
  order_id INT UNSIGNED NOT NULL COMMENT 'the first order',
  step_id INT UNSIGNED NOT NULL,
  said ENUM('accepted', 'declined') NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (order_id, step_id),
  FOREIGN KEY (order_id) REFERENCES orders (id)
) COMMENT 'what a buyer said to each further offer, once';

CREATE TABLE journal (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(60) COLLATE utf8mb4_bin NOT NULL COMMENT 'of the entry and its line',
  at DATETIME(3) NOT NULL,
  order_id INT UNSIGNED NOT NULL COMMENT 'the first order of the story',
  charge_id INT UNSIGNED NOT NULL,
  account ENUM('cards', 'income', 'tax', 'refunds') NOT NULL,
  amount BIGINT NOT NULL COMMENT 'debit where positive, credit where negative; minor units',
  currency CHAR(3) NOT NULL,
  recorded_at DATETIME(3) NOT NULL COMMENT 'real time, as in fact',
  UNIQUE KEY (once),
  KEY (order_id),
  KEY (at)
) COMMENT 'double entry, append-only: the lines of an entry sum to zero';

CREATE TABLE journal_day (
  account ENUM('cards', 'income', 'tax', 'refunds') NOT NULL,
  currency CHAR(3) NOT NULL,
  day DATE NOT NULL COMMENT 'of UTC',
  amount BIGINT NOT NULL,
  PRIMARY KEY (account, currency, day)
) COMMENT 'the journal, rolled up by day';
INSERT INTO rollup_mark (name, fact_id) VALUES ('journal', 0);

ALTER TABLE admission
  MODIFY course_id INT UNSIGNED NULL,
  ADD media_id INT UNSIGNED NULL COMMENT 'a file',
  ADD order_id INT UNSIGNED NULL COMMENT 'the first order of the story it was bought in',
  ADD UNIQUE KEY (person_id, media_id, origin),
  ADD KEY (order_id),
  ADD FOREIGN KEY (media_id) REFERENCES media (id),
  ADD FOREIGN KEY (order_id) REFERENCES orders (id);

ALTER TABLE session ADD scope VARCHAR(200) NULL COMMENT 'the orders whose admissions it opens, by number; null: everything the person has';

ALTER TABLE mail
  MODIFY kind ENUM('confirm', 'way-in', 'sequence', 'receipt', 'mend-card', 'access-ended', 'refund') NOT NULL,
  ADD order_id INT UNSIGNED NULL,
  ADD plan_id INT UNSIGNED NULL,
  ADD refund_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (order_id) REFERENCES orders (id),
  ADD FOREIGN KEY (plan_id) REFERENCES plan (id),
  ADD FOREIGN KEY (refund_id) REFERENCES refund (id);

ALTER TABLE sequence_mail
  ADD step_id INT UNSIGNED NULL COMMENT 'a page where the button leads, instead of a lesson',
  ADD FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE SET NULL;

ALTER TABLE media ADD public TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'a video that stands on a published page needs no signed link';

CREATE TABLE funnel_before (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  what VARCHAR(200) NOT NULL COMMENT 'the change that came after, in words',
  structure MEDIUMTEXT NOT NULL COMMENT 'steps, streams and effects as they were, JSON',
  KEY (funnel_id, id),
  FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE CASCADE
) COMMENT 'what a change to the structure of a funnel can be taken back to';
