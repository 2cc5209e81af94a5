-- What journeys brought, summed as they are: each order with the journey in which it was made, and with the first of its buyer.

CREATE TABLE sold (
  order_id INT UNSIGNED NOT NULL PRIMARY KEY,
  currency CHAR(3) NOT NULL,
  buyer BIGINT NOT NULL COMMENT 'the person; below zero, the order, where they were erased before it was first counted',
  funnel_id INT UNSIGNED NOT NULL,
  begun_at DATETIME(3) NOT NULL COMMENT 'of the journey in which it was made',
  source VARCHAR(80) NOT NULL,
  device ENUM('unknown', 'phone', 'tablet', 'computer') NOT NULL,
  first_funnel_id INT UNSIGNED NOT NULL,
  first_begun_at DATETIME(3) NOT NULL COMMENT 'of the first journey of its buyer',
  first_source VARCHAR(80) NOT NULL,
  first_device ENUM('unknown', 'phone', 'tablet', 'computer') NOT NULL,
  income BIGINT NOT NULL,
  kept BIGINT NOT NULL,
  KEY (buyer)
) COMMENT 'orders with what came of them, as the sums have them';

CREATE TABLE sold_quarter (
  credit ENUM('made', 'first') NOT NULL COMMENT 'for which journey it counts',
  currency CHAR(3) NOT NULL,
  funnel_id INT UNSIGNED NOT NULL,
  begun DATETIME NOT NULL COMMENT 'the quarter-hour of UTC in which that journey began',
  source VARCHAR(80) NOT NULL,
  device ENUM('unknown', 'phone', 'tablet', 'computer') NOT NULL,
  orders BIGINT NOT NULL,
  buyers BIGINT NOT NULL COMMENT 'each once, for their first journey',
  income BIGINT NOT NULL,
  kept BIGINT NOT NULL,
  squares DECIMAL(38, 0) NOT NULL COMMENT 'of what was kept of each order',
  PRIMARY KEY (credit, currency, funnel_id, begun, source, device)
) COMMENT 'money by journeys';
CREATE TABLE sold_day LIKE sold_quarter;

CREATE TABLE sold_change (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  order_id INT UNSIGNED NOT NULL
) COMMENT 'orders of which something was booked that is not in the sums yet';

CREATE TRIGGER booked AFTER INSERT ON journal FOR EACH ROW
INSERT INTO sold_change (order_id) SELECT NEW.order_id FROM DUAL
WHERE NEW.order_id IS NOT NULL AND NEW.account IN ('income', 'refunds', 'fees', 'commission');

CREATE TRIGGER order_united AFTER UPDATE ON orders FOR EACH ROW
INSERT INTO sold_change (order_id) SELECT NEW.id FROM DUAL
WHERE NEW.first_id IS NULL AND OLD.person_id IS NOT NULL AND NEW.person_id IS NOT NULL AND NEW.person_id <> OLD.person_id;

INSERT INTO rollup_mark (name, fact_id) VALUES ('sold', 0);
INSERT INTO sold_change (order_id) SELECT DISTINCT order_id FROM journal WHERE order_id IS NOT NULL;
