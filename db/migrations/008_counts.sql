-- What the studio counts, so that a view costs the same after a launch as before it. Whatever changes what is counted is put
-- down as a change by the schema itself, whoever writes; changes are taken into the sums every few seconds, and a view reads
-- the sums and the changes that are not in them yet. (Rows that a foreign key deletes fire no trigger: who erases people or
-- tags deletes what hangs on them first.)

CREATE TABLE tally (
  what VARCHAR(16) NOT NULL,
  about INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'the course, tag, sequence, offer or coupon; 0: the school',
  part VARCHAR(16) NOT NULL DEFAULT '' COMMENT 'a state, a currency, or a quarter-hour of UTC',
  n BIGINT NOT NULL,
  money BIGINT NOT NULL DEFAULT 0,
  PRIMARY KEY (what, about, part)
) COMMENT 'sums';

CREATE TABLE tally_change (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  what VARCHAR(16) NOT NULL,
  about INT UNSIGNED NOT NULL,
  part VARCHAR(16) NOT NULL,
  n BIGINT NOT NULL,
  money BIGINT NOT NULL
) COMMENT 'not in the sums yet';

CREATE TABLE rest_quarter (
  funnel_id INT UNSIGNED NOT NULL,
  begun DATETIME NOT NULL COMMENT 'the quarter-hour of UTC in which the journeys began',
  step_id INT UNSIGNED NOT NULL,
  moved DATE NOT NULL COMMENT 'the day of UTC of their last move; 1970-01-01: long ago',
  n BIGINT NOT NULL,
  money BIGINT NOT NULL,
  PRIMARY KEY (funnel_id, begun, step_id, moved),
  KEY (moved)
) COMMENT 'where journeys rest';
CREATE TABLE rest_day LIKE rest_quarter;

CREATE TABLE rest_change (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  begun_at DATETIME(3) NOT NULL,
  step_id INT UNSIGNED NOT NULL,
  moved DATE NOT NULL,
  n BIGINT NOT NULL,
  money BIGINT NOT NULL
) COMMENT 'not in the sums yet';

CREATE TABLE river_day LIKE river_flow;
ALTER TABLE river_day COMMENT 'the river''s flows by day of UTC, sources only where they come in';

CREATE TRIGGER journey_begun AFTER INSERT ON journey FOR EACH ROW
INSERT INTO rest_change (funnel_id, begun_at, step_id, moved, n, money) VALUES (NEW.funnel_id, NEW.begun_at, NEW.rest_step_id, DATE(NEW.rest_at), 1, NEW.paid);

CREATE TRIGGER journey_moved AFTER UPDATE ON journey FOR EACH ROW
INSERT INTO rest_change (funnel_id, begun_at, step_id, moved, n, money)
SELECT c.funnel_id, c.begun_at, c.step_id, c.moved, c.n, c.money FROM (
  SELECT OLD.funnel_id AS funnel_id, OLD.begun_at AS begun_at, OLD.rest_step_id AS step_id, DATE(OLD.rest_at) AS moved, -1 AS n, -OLD.paid AS money
  UNION ALL SELECT NEW.funnel_id, NEW.begun_at, NEW.rest_step_id, DATE(NEW.rest_at), 1, NEW.paid) c
WHERE OLD.rest_step_id <> NEW.rest_step_id OR DATE(OLD.rest_at) <> DATE(NEW.rest_at) OR OLD.paid <> NEW.paid;

CREATE TRIGGER person_made AFTER INSERT ON person FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('people', 0, '', 1, 0);
CREATE TRIGGER person_erased AFTER DELETE ON person FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('people', 0, '', -1, 0);

CREATE TRIGGER tag_put_on AFTER INSERT ON person_tag FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('tagged', NEW.tag_id, '', 1, 0);
CREATE TRIGGER tag_taken_off AFTER DELETE ON person_tag FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('tagged', OLD.tag_id, '', -1, 0);

CREATE TRIGGER admission_given AFTER INSERT ON admission FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money)
SELECT 'learners', NEW.course_id, '', 1, 0 FROM DUAL WHERE NEW.course_id IS NOT NULL
  AND NOT EXISTS (SELECT 1 FROM admission a WHERE a.person_id = NEW.person_id AND a.course_id = NEW.course_id AND a.id <> NEW.id);

CREATE TRIGGER sequence_begun AFTER INSERT ON enrolment FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('begun', NEW.sequence_id, DATE_FORMAT(FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(NEW.begun_at) / 900) * 900), '%Y%m%d%H%i'), 1, 0),
  ('running', NEW.sequence_id, '', IF(NEW.ended_at IS NULL, 1, 0), 0);
CREATE TRIGGER sequence_turned AFTER UPDATE ON enrolment FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money)
SELECT 'running', NEW.sequence_id, '', (NEW.ended_at IS NULL) - (OLD.ended_at IS NULL), 0 FROM DUAL WHERE (NEW.ended_at IS NULL) <> (OLD.ended_at IS NULL);

CREATE TRIGGER order_placed AFTER INSERT ON orders FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money)
SELECT 'orders', 0, NEW.state, 1, 0 FROM DUAL
UNION ALL SELECT 'coupon', NEW.coupon_id, NEW.currency, 1, NEW.gross FROM DUAL WHERE NEW.coupon_id IS NOT NULL AND NEW.state IN ('paid', 'refunded');

CREATE TRIGGER order_turned AFTER UPDATE ON orders FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money)
SELECT 'orders', 0, OLD.state, -1, 0 FROM DUAL WHERE OLD.state <> NEW.state
UNION ALL SELECT 'orders', 0, NEW.state, 1, 0 FROM DUAL WHERE OLD.state <> NEW.state
UNION ALL SELECT 'coupon', OLD.coupon_id, OLD.currency, -1, -OLD.gross FROM DUAL WHERE OLD.coupon_id IS NOT NULL AND OLD.state IN ('paid', 'refunded') AND OLD.state <> NEW.state
UNION ALL SELECT 'coupon', NEW.coupon_id, NEW.currency, 1, NEW.gross FROM DUAL WHERE NEW.coupon_id IS NOT NULL AND NEW.state IN ('paid', 'refunded') AND OLD.state <> NEW.state
UNION ALL SELECT 'sold', l.offer_id, '', (NEW.state = 'paid') - (OLD.state = 'paid'), 0 FROM order_line l WHERE l.order_id = NEW.id AND (OLD.state = 'paid') <> (NEW.state = 'paid');

CREATE TRIGGER order_forgotten AFTER DELETE ON orders FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('orders', 0, OLD.state, -1, 0);

CREATE TRIGGER line_written AFTER INSERT ON order_line FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money)
SELECT 'sold', NEW.offer_id, '', 1, 0 FROM orders o WHERE o.id = NEW.order_id AND o.state = 'paid';

CREATE TRIGGER plan_begun AFTER INSERT ON plan FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('plans', 0, NEW.state, 1, 0);
CREATE TRIGGER plan_turned AFTER UPDATE ON plan FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money)
SELECT 'plans', 0, OLD.state, -1, 0 FROM DUAL WHERE OLD.state <> NEW.state
UNION ALL SELECT 'plans', 0, NEW.state, 1, 0 FROM DUAL WHERE OLD.state <> NEW.state;

-- What is there already.
INSERT INTO rest_change (funnel_id, begun_at, step_id, moved, n, money)
SELECT funnel_id, FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(begun_at) / 900) * 900), rest_step_id, DATE(rest_at), COUNT(*), SUM(paid) FROM journey GROUP BY 1, 2, 3, 4;
INSERT INTO river_day (funnel_id, quarter, step_id, from_step_id, outcome, via, source, n, money)
SELECT funnel_id, DATE(quarter), step_id, from_step_id, outcome, via, IF(via = 'source', source, ''), SUM(n), SUM(money) FROM river_flow GROUP BY 1, 2, 3, 4, 5, 6, 7;
INSERT INTO tally (what, about, part, n, money)
SELECT 'people', 0, '', COUNT(*), 0 FROM person
UNION ALL SELECT 'tagged', tag_id, '', COUNT(*), 0 FROM person_tag GROUP BY tag_id
UNION ALL SELECT 'learners', course_id, '', COUNT(DISTINCT person_id), 0 FROM admission WHERE course_id IS NOT NULL GROUP BY course_id
UNION ALL SELECT 'begun', sequence_id, DATE_FORMAT(FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(begun_at) / 900) * 900), '%Y%m%d%H%i'), COUNT(*), 0 FROM enrolment GROUP BY 1, 2, 3
UNION ALL SELECT 'running', sequence_id, '', SUM(ended_at IS NULL), 0 FROM enrolment GROUP BY sequence_id
UNION ALL SELECT 'orders', 0, state, COUNT(*), 0 FROM orders GROUP BY state
UNION ALL SELECT 'coupon', coupon_id, currency, COUNT(*), SUM(gross) FROM orders WHERE coupon_id IS NOT NULL AND state IN ('paid', 'refunded') GROUP BY coupon_id, currency
UNION ALL SELECT 'sold', l.offer_id, '', COUNT(*), 0 FROM order_line l JOIN orders o ON o.id = l.order_id WHERE o.state = 'paid' GROUP BY l.offer_id
UNION ALL SELECT 'plans', 0, state, COUNT(*), 0 FROM plan GROUP BY state;

ALTER TABLE mail ADD KEY waiting (state, tries, due_at);
ALTER TABLE order_line ADD KEY posting (offer_id, posted_at, order_id);
ALTER TABLE orders ADD KEY unpaid (funnel_id, state, made_at, step_id, visitor, first_id), ADD KEY first_made (first_id, made_at, state);
ALTER TABLE journal ADD KEY by_account (account, at, currency, amount);

-- Plans that charge alike from now on are read as one: their shape is what was agreed without the moment it began (by weeks, with it).
ALTER TABLE order_line ADD shape BINARY(16) AS (UNHEX(MD5(IF(JSON_VALUE(plan, '$.recurring.every.unit') = 'week', plan, JSON_REMOVE(plan, '$.start'))))) PERSISTENT;
ALTER TABLE plan ADD shape BINARY(16) NULL COMMENT 'of its order line', ADD KEY coming (state, shape, next_n, next_due, order_line_id);
UPDATE plan p JOIN order_line l ON l.id = p.order_line_id SET p.shape = l.shape;
CREATE TRIGGER plan_shaped BEFORE INSERT ON plan FOR EACH ROW SET NEW.shape = (SELECT l.shape FROM order_line l WHERE l.id = NEW.order_line_id);
