-- What affiliates bring, summed up as it comes in, so that a list of them costs the same after years.

CREATE TABLE mention_total (
  affiliate_id INT UNSIGNED NOT NULL,
  sub VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  n INT UNSIGNED NOT NULL,
  last_at DATETIME(3) NOT NULL,
  PRIMARY KEY (affiliate_id, sub),
  FOREIGN KEY (affiliate_id) REFERENCES affiliate (id)
) COMMENT 'how many rows mention has of each link, ever';
INSERT INTO mention_total (affiliate_id, sub, n, last_at)
  SELECT affiliate_id, sub, COUNT(*), MAX(at) FROM mention GROUP BY affiliate_id, sub;
ALTER TABLE mention ADD KEY (at, affiliate_id, sub);

ALTER TABLE sale
  ADD offer_id INT UNSIGNED NULL COMMENT 'what the story began with',
  ADD connection VARCHAR(45) CHARACTER SET ascii NOT NULL DEFAULT '' COMMENT 'that it was bought from',
  ADD KEY told (affiliate_id, at, sub, offer_id, connection),
  DROP KEY affiliate_id;
UPDATE sale s JOIN orders o ON o.id = s.order_id
  SET s.connection = COALESCE(o.ip, ''), s.offer_id = (SELECT l.offer_id FROM order_line l WHERE l.order_id = s.order_id AND l.role = 'main' LIMIT 1);

CREATE TABLE sale_sum (
  order_id INT UNSIGNED NOT NULL COMMENT 'the first order of the story',
  currency CHAR(3) CHARACTER SET ascii NOT NULL,
  affiliate_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL COMMENT 'of the sale',
  sub VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  offer_id INT UNSIGNED NULL,
  net BIGINT NOT NULL COMMENT 'what was charged, without tax',
  back BIGINT NOT NULL COMMENT 'what was given back of it',
  commission BIGINT NOT NULL COMMENT 'what stands of it, whoever it is for',
  PRIMARY KEY (order_id, currency),
  KEY told (affiliate_id, at, sub, offer_id, currency, net, back, commission),
  FOREIGN KEY (order_id) REFERENCES sale (order_id)
) COMMENT 'what became of a story that counts for an affiliate';
INSERT INTO sale_sum (order_id, currency, affiliate_id, at, sub, offer_id, net, back, commission)
  SELECT x.story, x.currency, s.affiliate_id, s.at, s.sub, s.offer_id, SUM(x.net), SUM(x.back), SUM(x.commission) FROM (
    SELECT s.order_id AS story, c.currency, c.net, ROUND(c.net * c.refunded / GREATEST(c.gross, 1)) AS back, 0 AS commission
      FROM sale s JOIN orders o ON o.id = s.order_id OR o.first_id = s.order_id JOIN charge c ON c.order_id = o.id AND c.state = 'succeeded' WHERE s.affiliate_id IS NOT NULL
    UNION ALL SELECT order_id, currency, 0, 0, amount FROM commission WHERE kind <> 'written-off') x
  JOIN sale s ON s.order_id = x.story AND s.affiliate_id IS NOT NULL GROUP BY x.story, x.currency;

-- A row of commission never changes: one that had to be marked would move in its table and its indexes, which takes several times
-- as long. That it is in a payout is said by a row of its own, and so it can't be in two. What isn't paid is on a short list, so
-- that looking for what is open costs the same after years; what was paid is taken off it in the background.
CREATE TABLE payout_line (
  commission_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  payout_id INT UNSIGNED NOT NULL,
  KEY (payout_id)
) COMMENT 'which payout a commission is in';
CREATE TABLE commission_unpaid (
  commission_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  affiliate_id INT UNSIGNED NOT NULL,
  currency CHAR(3) CHARACTER SET ascii NOT NULL,
  due_at DATETIME(3) NOT NULL,
  amount BIGINT NOT NULL,
  left_out VARCHAR(200) NULL COMMENT 'why it is not paid out for now'
) COMMENT 'a short list: commission that was not paid when it was last gone through';
CREATE VIEW commission_open AS
  SELECT u.* FROM commission_unpaid u LEFT JOIN payout_line l ON l.commission_id = u.commission_id WHERE l.commission_id IS NULL;

INSERT INTO payout_line (commission_id, payout_id) SELECT id, payout_id FROM commission WHERE payout_id IS NOT NULL ORDER BY id;
INSERT INTO commission_unpaid (commission_id, affiliate_id, currency, due_at, amount, left_out)
  SELECT c.id, c.affiliate_id, c.currency, c.due_at, c.amount, c.left_out FROM commission c LEFT JOIN payout p ON p.id = c.payout_id
  WHERE c.payout_id IS NULL OR p.state = 'made' ORDER BY c.id;
ALTER TABLE commission DROP FOREIGN KEY commission_ibfk_4;
ALTER TABLE commission DROP KEY payout_id, DROP KEY open, DROP COLUMN payout_id, DROP COLUMN left_out;
