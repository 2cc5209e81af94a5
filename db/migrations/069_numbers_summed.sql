-- What Numbers would count row by row: people by the day they joined, first orders by how long they took, money by when it was booked.

CREATE OR REPLACE TRIGGER person_made AFTER INSERT ON person FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('people', 0, DATE_FORMAT(NEW.joined_at, '%Y-%m-%d'), 1, 0);
CREATE OR REPLACE TRIGGER person_erased AFTER DELETE ON person FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('people', 0, DATE_FORMAT(OLD.joined_at, '%Y-%m-%d'), -1, 0);
CREATE TRIGGER person_recounted AFTER UPDATE ON person FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money)
SELECT 'people', 0, DATE_FORMAT(day, '%Y-%m-%d'), n, 0 FROM (SELECT OLD.joined_at AS day, -1 AS n UNION ALL SELECT NEW.joined_at, 1) moved WHERE NEW.joined_at <> OLD.joined_at;
DELETE FROM tally WHERE what = 'people';
DELETE FROM tally_change WHERE what = 'people';
INSERT INTO tally (what, about, part, n, money) SELECT 'people', 0, DATE_FORMAT(joined_at, '%Y-%m-%d'), COUNT(*), 0 FROM person GROUP BY 3;

CREATE TABLE sold_first (
  joined DATE NOT NULL,
  days SMALLINT UNSIGNED NOT NULL COMMENT 'from then to the first order, both days of UTC',
  n INT NOT NULL,
  PRIMARY KEY (joined, days)
) COMMENT 'buyers by when they joined and how long it took them to buy';
DELETE FROM sold;
DELETE FROM sold_order;
DELETE FROM sold_quarter;
DELETE FROM sold_day;
DELETE FROM sold_group;
INSERT INTO sold_change (order_id) SELECT DISTINCT order_id FROM journal WHERE order_id IS NOT NULL;

CREATE TABLE kept_quarter (
  funnel_id INT UNSIGNED NOT NULL,
  currency CHAR(3) NOT NULL,
  at DATETIME NOT NULL,
  kept BIGINT NOT NULL,
  PRIMARY KEY (funnel_id, currency, at)
) COMMENT 'what was kept by funnel and quarter-hour, up to the mark of the journal';
INSERT INTO kept_quarter (funnel_id, currency, at, kept)
SELECT o.funnel_id, l.currency, FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(l.at) / 900) * 900), -SUM(l.amount) FROM journal l JOIN orders o ON o.id = l.order_id
WHERE l.id <= (SELECT fact_id FROM rollup_mark WHERE name = 'journal') AND l.account IN ('income', 'refunds', 'fees', 'commission') AND o.test = 0 GROUP BY 1, 2, 3;

-- Whether anybody followed a link of a sequence's mails stands with whoever began it.
ALTER TABLE enrolment
  ADD clicked TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'a link of one of its e-mails was followed',
  DROP KEY begun, ADD KEY begun (begun_at, sequence_id, person_id, clicked);
UPDATE enrolment e SET clicked = 1 WHERE EXISTS (SELECT 1 FROM mail m WHERE m.enrolment_id = e.id AND m.clicked_at IS NOT NULL);
