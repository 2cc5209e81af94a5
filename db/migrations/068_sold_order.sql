-- What each order brought for itself, further offers too; and what those who joined on a day were worth after some days.

CREATE TABLE sold_order (
  order_id INT UNSIGNED NOT NULL PRIMARY KEY,
  first_id INT UNSIGNED NOT NULL COMMENT 'the order to which it is a further one; itself where it is none',
  funnel_id INT UNSIGNED NOT NULL,
  step_id INT UNSIGNED NOT NULL,
  begun_at DATETIME(3) NOT NULL COMMENT 'of the journey in which it was made',
  made_at DATETIME(3) NOT NULL,
  currency CHAR(3) NOT NULL,
  kept BIGINT NOT NULL,
  KEY (first_id),
  KEY by_funnel (funnel_id, begun_at, currency, step_id, kept, made_at, first_id, order_id)
) COMMENT 'orders with what came of each';

DELETE FROM sold;
DELETE FROM sold_quarter;
DELETE FROM sold_day;
ALTER TABLE sold
  ADD made_at DATETIME(3) NOT NULL AFTER buyer,
  ADD joined DATE NULL COMMENT 'the day of UTC since which the school knows the buyer' AFTER made_at,
  ADD kept_7 BIGINT NOT NULL COMMENT 'within so many days of that',
  ADD kept_30 BIGINT NOT NULL,
  ADD kept_90 BIGINT NOT NULL,
  DROP KEY buyer,
  ADD KEY buyer (buyer, made_at);

CREATE TABLE sold_group (
  joined DATE NOT NULL,
  currency CHAR(3) NOT NULL,
  kept BIGINT NOT NULL,
  kept_7 BIGINT NOT NULL,
  kept_30 BIGINT NOT NULL,
  kept_90 BIGINT NOT NULL,
  PRIMARY KEY (joined, currency)
) COMMENT 'money by when its buyers joined';

-- Of two who are one the earlier day counts.
CREATE TRIGGER person_joined AFTER UPDATE ON person FOR EACH ROW
INSERT INTO sold_change (order_id) SELECT id FROM orders WHERE person_id = NEW.id AND first_id IS NULL AND NEW.joined_at <> OLD.joined_at;

-- What tables of sequences read stands in their keys.
ALTER TABLE enrolment DROP KEY begun, ADD KEY begun (begun_at, sequence_id, person_id);
ALTER TABLE mail
  DROP KEY enrolment_id, ADD KEY enrolment_id (enrolment_id, clicked_at),
  DROP KEY sequence_mail_id, ADD KEY sequence_mail_id (sequence_mail_id, state, opened_at, clicked_at);

-- Who was let into a course of late.
ALTER TABLE admission DROP KEY from_at, ADD KEY from_at (from_at, course_id, person_id);

ALTER TABLE journal ADD KEY by_charge (charge_id, account, currency, amount);

INSERT INTO sold_change (order_id) SELECT DISTINCT order_id FROM journal WHERE order_id IS NOT NULL;
