-- What each line of an order brought, by offer; and since when nothing was booked of an order any more.
CREATE TABLE sold_line (
  line_id INT UNSIGNED NOT NULL PRIMARY KEY,
  first_id INT UNSIGNED NOT NULL COMMENT 'the order, or that to which its order is a further one',
  offer_id INT UNSIGNED NOT NULL,
  buyer BIGINT NOT NULL COMMENT 'as in sold',
  funnel_id INT UNSIGNED NOT NULL,
  begun_at DATETIME(3) NOT NULL COMMENT 'of the journey in which the first order was made',
  made_at DATETIME(3) NOT NULL,
  booked_at DATETIME(3) NOT NULL COMMENT 'when something was last booked of it',
  currency CHAR(3) NOT NULL,
  income DECIMAL(24, 6) NOT NULL,
  kept DECIMAL(24, 6) NOT NULL,
  KEY (first_id),
  KEY by_begun (currency, begun_at, funnel_id, offer_id, buyer, made_at, booked_at, income, kept)
) COMMENT 'lines of orders with what came of each';

DELETE FROM sold;
DELETE FROM sold_order;
DELETE FROM sold_quarter;
DELETE FROM sold_day;
DELETE FROM sold_group;
DELETE FROM sold_first;
DELETE FROM sold_change;
ALTER TABLE sold
  ADD booked_at DATETIME(3) NOT NULL COMMENT 'when something was last booked of it' AFTER made_at,
  ADD KEY made (made_at);
INSERT INTO sold_change (order_id) SELECT DISTINCT order_id FROM journal WHERE order_id IS NOT NULL;
ALTER TABLE journal DROP KEY order_id, ADD KEY order_id (order_id, currency, account, at, amount);
