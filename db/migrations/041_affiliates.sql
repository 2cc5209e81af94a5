-- Affiliates: whoever recommends, what was agreed with them, whose mention counts for a sale, and what they are owed and paid.

CREATE TABLE affiliate_rules (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  mention_days SMALLINT UNSIGNED NOT NULL DEFAULT 30 COMMENT 'how long a mention counts',
  which ENUM('last', 'first') NOT NULL DEFAULT 'last' COMMENT 'mention that counts',
  consent ENUM('not-needed', 'asked') NOT NULL DEFAULT 'not-needed' COMMENT 'before a mention is remembered on a device',
  due_days SMALLINT UNSIGNED NOT NULL DEFAULT 30 COMMENT 'from a payment to when its commission is due',
  least BIGINT NOT NULL DEFAULT 2000 COMMENT 'minor units of any currency: less is not paid out yet',
  pay_days VARCHAR(20) CHARACTER SET ascii NOT NULL DEFAULT '1' COMMENT 'days of the month on which is paid, set apart by commas',
  with_tax TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'whether who has a tax number is paid the tax on top, at the rate of the school',
  holder VARCHAR(140) NOT NULL DEFAULT '' COMMENT 'of the account that pays',
  iban VARCHAR(34) CHARACTER SET ascii NOT NULL DEFAULT '',
  bic VARCHAR(11) CHARACTER SET ascii NOT NULL DEFAULT '',
  note_prefix VARCHAR(12) CHARACTER SET ascii NOT NULL DEFAULT 'CN' COMMENT 'of the numbers of credit notes',
  changes INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'counts up with every change of what visitors may see of an affiliate'
);
INSERT INTO affiliate_rules (id) VALUES (1);

CREATE TABLE programme (
  offer_id INT UNSIGNED NOT NULL PRIMARY KEY,
  is_on TINYINT(1) NOT NULL DEFAULT 0,
  from_at DATETIME(3) NULL,
  until_at DATETIME(3) NULL,
  terms TEXT NOT NULL COMMENT 'JSON, checked on the way in and out',
  about TEXT NOT NULL DEFAULT '' COMMENT 'what it is about, for whoever might recommend it',
  approve ENUM('by-hand', 'at-once') NOT NULL DEFAULT 'by-hand',
  step_id INT UNSIGNED NULL COMMENT 'where links lead that name no page',
  conditions_version INT UNSIGNED NOT NULL DEFAULT 0 COMMENT '0: there are none',
  revision INT UNSIGNED NOT NULL DEFAULT 0,
  made_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  FOREIGN KEY (offer_id) REFERENCES offer (id) ON DELETE CASCADE,
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE SET NULL
) COMMENT 'what is paid for recommending an offer';

CREATE TABLE programme_conditions (
  offer_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  words TEXT NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (offer_id, version),
  FOREIGN KEY (offer_id) REFERENCES programme (offer_id) ON DELETE CASCADE
);

CREATE TABLE material (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  offer_id INT UNSIGNED NOT NULL,
  position INT NOT NULL,
  kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'words or picture',
  title VARCHAR(120) NOT NULL,
  words TEXT NOT NULL DEFAULT '',
  media_id INT UNSIGNED NULL,
  step_id INT UNSIGNED NULL COMMENT 'the page that its link leads to; null: where the programme says',
  KEY (offer_id, position),
  FOREIGN KEY (offer_id) REFERENCES programme (offer_id) ON DELETE CASCADE,
  FOREIGN KEY (media_id) REFERENCES media (id),
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE SET NULL
) COMMENT 'words and pictures for affiliates to use';

CREATE TABLE affiliate (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id INT UNSIGNED NULL COMMENT 'null: erased, while the books need the row',
  state ENUM('invited', 'asked', 'active', 'ended') NOT NULL,
  code VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'in links',
  public_name VARCHAR(120) NOT NULL,
  shown TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'whether visitors are told who recommended',
  brought_by_id INT UNSIGNED NULL,
  asked_at DATETIME(3) NOT NULL,
  since DATETIME(3) NULL COMMENT 'when they could begin',
  ended_at DATETIME(3) NULL,
  source VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'how they came: page, hand, list, invitation, effect, lesson',
  holder VARCHAR(140) NOT NULL DEFAULT '',
  iban VARCHAR(34) CHARACTER SET ascii NOT NULL DEFAULT '',
  bic VARCHAR(11) CHARACTER SET ascii NOT NULL DEFAULT '',
  postal VARCHAR(400) NOT NULL DEFAULT '',
  tax_number VARCHAR(40) NOT NULL DEFAULT '',
  bank_at DATETIME(3) NULL COMMENT 'when the bank details were confirmed',
  UNIQUE KEY (person_id),
  UNIQUE KEY (code),
  KEY (state, id),
  KEY (brought_by_id),
  FOREIGN KEY (person_id) REFERENCES person (id),
  FOREIGN KEY (brought_by_id) REFERENCES affiliate (id)
);

CREATE TABLE affiliate_in (
  affiliate_id INT UNSIGNED NOT NULL,
  offer_id INT UNSIGNED NOT NULL,
  rate TEXT NULL COMMENT 'an own rate, JSON; null: the one of the programme',
  agreed_version INT UNSIGNED NOT NULL DEFAULT 0,
  agreed_at DATETIME(3) NULL,
  PRIMARY KEY (affiliate_id, offer_id),
  KEY (offer_id),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id) ON DELETE CASCADE,
  FOREIGN KEY (offer_id) REFERENCES programme (offer_id) ON DELETE CASCADE
) COMMENT 'who takes part in which programme';

CREATE TABLE bank_change (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  affiliate_id INT UNSIGNED NOT NULL,
  holder VARCHAR(140) NOT NULL,
  iban VARCHAR(34) CHARACTER SET ascii NOT NULL,
  bic VARCHAR(11) CHARACTER SET ascii NOT NULL,
  postal VARCHAR(400) NOT NULL,
  tax_number VARCHAR(40) NOT NULL,
  at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  done_at DATETIME(3) NULL,
  KEY (affiliate_id, id),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id) ON DELETE CASCADE
) COMMENT 'bank details that wait for the yes of a mailbox';

CREATE TABLE affiliate_link (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  affiliate_id INT UNSIGNED NOT NULL,
  step_id INT UNSIGNED NULL COMMENT 'the page it leads to',
  offer_id INT UNSIGNED NULL COMMENT 'the offer whose checkout it leads to',
  sub VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  made_at DATETIME(3) NOT NULL,
  KEY (affiliate_id, id),
  KEY (step_id),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id) ON DELETE CASCADE,
  FOREIGN KEY (step_id) REFERENCES step (id) ON DELETE SET NULL,
  FOREIGN KEY (offer_id) REFERENCES offer (id) ON DELETE CASCADE
) COMMENT 'links that an affiliate had made';

ALTER TABLE coupon ADD affiliate_id INT UNSIGNED NULL COMMENT 'for whom it counts',
  ADD FOREIGN KEY (affiliate_id) REFERENCES affiliate (id);

CREATE TABLE mention (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once BINARY(16) NOT NULL COMMENT 'of visitor, affiliate, sub-name and hour',
  at DATETIME(3) NOT NULL,
  affiliate_id INT UNSIGNED NOT NULL,
  sub VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  step_id INT UNSIGNED NULL COMMENT 'the page it led to',
  visitor BINARY(16) NULL COMMENT 'null: they did not let it be remembered',
  person_id INT UNSIGNED NULL COMMENT 'known once they joined or bought',
  UNIQUE KEY (once),
  KEY (affiliate_id, at, sub),
  KEY (visitor, at),
  KEY (person_id, at),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id)
) COMMENT 'somebody came by a link of an affiliate';

CREATE TABLE affiliate_join (
  person_id INT UNSIGNED NOT NULL PRIMARY KEY,
  affiliate_id INT UNSIGNED NOT NULL,
  sub VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  at DATETIME(3) NOT NULL,
  KEY (affiliate_id, at),
  FOREIGN KEY (person_id) REFERENCES person (id),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id)
) COMMENT 'who joined while a mention counted';

CREATE TABLE sale (
  order_id INT UNSIGNED NOT NULL PRIMARY KEY COMMENT 'the first order of the story',
  affiliate_id INT UNSIGNED NULL COMMENT 'for whom it counts; null: for nobody',
  second_id INT UNSIGNED NULL COMMENT 'who brought that affiliate, where that is paid',
  at DATETIME(3) NOT NULL,
  sub VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  decision TEXT NOT NULL COMMENT 'the chain of mentions, each with why it counted or did not, JSON',
  place INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'the how manieth sale of the affiliate in its month',
  moves SMALLINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how often it was given to another by hand',
  moved_why VARCHAR(200) NOT NULL DEFAULT '',
  moved_by VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL,
  moved_at DATETIME(3) NULL,
  KEY (affiliate_id, at),
  KEY (second_id),
  FOREIGN KEY (order_id) REFERENCES orders (id),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id),
  FOREIGN KEY (second_id) REFERENCES affiliate (id)
) COMMENT 'whose mention counted for a story of buying';

CREATE TABLE sale_line (
  order_line_id INT UNSIGNED NOT NULL PRIMARY KEY,
  order_id INT UNSIGNED NOT NULL COMMENT 'the first order of the story',
  terms TEXT NOT NULL COMMENT 'the commission as it was agreed when this was bought, JSON',
  KEY (order_id),
  FOREIGN KEY (order_id) REFERENCES sale (order_id)
);

CREATE TABLE payout (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(40) COLLATE utf8mb4_bin NOT NULL COMMENT 'of the form that made it, and its currency',
  state ENUM('made', 'paid', 'undone') NOT NULL,
  currency CHAR(3) NOT NULL,
  until_at DATETIME(3) NOT NULL COMMENT 'of what was due before',
  day DATE NOT NULL COMMENT 'on which the bank is to pay',
  people INT UNSIGNED NOT NULL,
  line_count INT UNSIGNED NOT NULL,
  gross BIGINT NOT NULL,
  holder VARCHAR(140) NOT NULL DEFAULT '',
  iban VARCHAR(34) CHARACTER SET ascii NOT NULL DEFAULT '',
  bic VARCHAR(11) CHARACTER SET ascii NOT NULL DEFAULT '',
  made_at DATETIME(3) NOT NULL,
  made_by VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL,
  paid_at DATETIME(3) NULL,
  undone_at DATETIME(3) NULL,
  file_done INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'how many are in the bank file',
  file_at DATETIME(3) NULL COMMENT 'when the bank file was whole',
  claimed_until DATETIME(3) NULL COMMENT 'real time: a worker has it in hand',
  UNIQUE KEY (once),
  KEY (state, id)
);

CREATE TABLE payout_to (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  payout_id INT UNSIGNED NOT NULL,
  affiliate_id INT UNSIGNED NOT NULL,
  net BIGINT NOT NULL,
  tax BIGINT NOT NULL,
  gross BIGINT NOT NULL,
  line_count INT UNSIGNED NOT NULL,
  holder VARCHAR(140) NOT NULL,
  iban VARCHAR(34) CHARACTER SET ascii NOT NULL,
  bic VARCHAR(11) CHARACTER SET ascii NOT NULL,
  postal VARCHAR(400) NOT NULL DEFAULT '',
  tax_number VARCHAR(40) NOT NULL DEFAULT '',
  note_number VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'of the credit note',
  mailed TINYINT(1) NOT NULL DEFAULT 0,
  UNIQUE KEY (payout_id, affiliate_id),
  UNIQUE KEY (note_number),
  KEY (affiliate_id),
  KEY (payout_id, mailed),
  FOREIGN KEY (payout_id) REFERENCES payout (id),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id)
);

CREATE TABLE note_number (
  year SMALLINT UNSIGNED NOT NULL PRIMARY KEY,
  last INT UNSIGNED NOT NULL
) COMMENT 'of credit notes, without gaps';

CREATE TABLE commission (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  once VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind ENUM('earned', 'back', 'moved', 'written-off') NOT NULL,
  affiliate_id INT UNSIGNED NOT NULL,
  level TINYINT UNSIGNED NOT NULL DEFAULT 1,
  order_id INT UNSIGNED NOT NULL COMMENT 'the first order of the story',
  order_line_id INT UNSIGNED NULL,
  charge_id INT UNSIGNED NOT NULL,
  earned_id BIGINT UNSIGNED NULL COMMENT 'what this takes back',
  move SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  base BIGINT NOT NULL COMMENT 'what it was reckoned from',
  rate VARCHAR(60) NOT NULL DEFAULT '' COMMENT 'JSON',
  amount BIGINT NOT NULL COMMENT 'minor units; below zero: taken back',
  currency CHAR(3) NOT NULL,
  sub VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  at DATETIME(3) NOT NULL,
  due_at DATETIME(3) NOT NULL,
  payout_id INT UNSIGNED NULL,
  left_out VARCHAR(200) NULL COMMENT 'why it is not paid out for now',
  UNIQUE KEY (once),
  KEY (affiliate_id, at),
  KEY (payout_id, affiliate_id),
  KEY open (payout_id, due_at, affiliate_id, currency, amount),
  KEY (order_id),
  KEY (charge_id),
  KEY (earned_id),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id),
  FOREIGN KEY (order_id) REFERENCES orders (id),
  FOREIGN KEY (charge_id) REFERENCES charge (id),
  FOREIGN KEY (payout_id) REFERENCES payout (id)
);

CREATE TABLE bonus (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  offer_id INT UNSIGNED NOT NULL COMMENT 'of whose programme',
  affiliate_id INT UNSIGNED NULL COMMENT 'null: any affiliate may choose it',
  state ENUM('allowed', 'asked', 'approved', 'refused') NOT NULL,
  course_id INT UNSIGNED NULL,
  lesson_id INT UNSIGNED NULL,
  media_id INT UNSIGNED NULL,
  name VARCHAR(120) NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY (offer_id, affiliate_id),
  FOREIGN KEY (offer_id) REFERENCES programme (offer_id) ON DELETE CASCADE,
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id) ON DELETE CASCADE,
  FOREIGN KEY (course_id) REFERENCES course (id) ON DELETE CASCADE,
  FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE,
  FOREIGN KEY (media_id) REFERENCES media (id)
) COMMENT 'what whoever buys through an affiliate gets as well';

CREATE TABLE bonus_chosen (
  affiliate_id INT UNSIGNED NOT NULL,
  bonus_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (affiliate_id, bonus_id),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id) ON DELETE CASCADE,
  FOREIGN KEY (bonus_id) REFERENCES bonus (id) ON DELETE CASCADE
);

-- The books: what recommending costs, what is owed for it, and what the bank paid; a processor''s fees where it says them.
ALTER TABLE journal
  MODIFY order_id INT UNSIGNED NULL,
  MODIFY charge_id INT UNSIGNED NULL,
  ADD payout_id INT UNSIGNED NULL,
  MODIFY account ENUM('cards', 'income', 'tax', 'refunds', 'fees', 'commission', 'affiliates', 'bank') NOT NULL;
ALTER TABLE journal_day
  MODIFY account ENUM('cards', 'income', 'tax', 'refunds', 'fees', 'commission', 'affiliates', 'bank') NOT NULL;
ALTER TABLE charge ADD fee BIGINT NOT NULL DEFAULT 0 COMMENT 'what the processor kept of it, where it says so';
ALTER TABLE refund ADD by_bank TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'the buyer''s bank took it back';
ALTER TABLE card ADD fingerprint VARCHAR(80) COLLATE utf8mb4_bin NULL COMMENT 'the same for the same card, where the processor says so', ADD KEY (fingerprint);

ALTER TABLE session
  DROP CONSTRAINT CONSTRAINT_1,
  MODIFY realm ENUM('studio', 'learn', 'affiliate') NOT NULL,
  ADD CHECK ((realm = 'studio') = (account_id IS NOT NULL) AND (realm <> 'studio') = (person_id IS NOT NULL));

ALTER TABLE mail ADD payout_to_id INT UNSIGNED NULL, ADD bank_change_id INT UNSIGNED NULL, ADD offer_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (payout_to_id) REFERENCES payout_to (id),
  ADD FOREIGN KEY (bank_change_id) REFERENCES bank_change (id) ON DELETE SET NULL,
  ADD FOREIGN KEY (offer_id) REFERENCES offer (id) ON DELETE SET NULL;

-- Where a page stood before: a link that names the old address still leads to it.
CREATE TABLE page_before (
  path VARCHAR(160) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  step_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL
);

-- Codes that affiliates had before: links that were given out go on working.
CREATE TABLE code_before (
  code VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  affiliate_id INT UNSIGNED NOT NULL,
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id) ON DELETE CASCADE
);

-- One lesson by itself.
ALTER TABLE admission
  ADD lesson_id INT UNSIGNED NULL COMMENT 'one lesson of the course; null: all of it, or the module',
  ADD of_lesson INT UNSIGNED AS (COALESCE(lesson_id, 0)) VIRTUAL,
  ADD UNIQUE KEY once_each (person_id, course_id, of_module, of_lesson, origin),
  DROP KEY once,
  ADD FOREIGN KEY (lesson_id) REFERENCES lesson (id) ON DELETE CASCADE;

ALTER TABLE pending_join ADD agreed_version INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'of the conditions for affiliates';
