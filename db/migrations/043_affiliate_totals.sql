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
  currency CHAR(3) NOT NULL,
  net BIGINT NOT NULL COMMENT 'what was charged, without tax',
  back BIGINT NOT NULL COMMENT 'what was given back of it',
  commission BIGINT NOT NULL COMMENT 'what stands of it, whoever it is for',
  PRIMARY KEY (order_id, currency),
  FOREIGN KEY (order_id) REFERENCES sale (order_id)
) COMMENT 'what became of a story that counts for an affiliate';
INSERT INTO sale_sum (order_id, currency, net, back, commission)
  SELECT story, currency, SUM(net), SUM(back), SUM(commission) FROM (
    SELECT s.order_id AS story, c.currency, c.net, ROUND(c.net * c.refunded / GREATEST(c.gross, 1)) AS back, 0 AS commission
      FROM sale s JOIN orders o ON o.id = s.order_id OR o.first_id = s.order_id JOIN charge c ON c.order_id = o.id AND c.state = 'succeeded' WHERE s.affiliate_id IS NOT NULL
    UNION ALL SELECT order_id, currency, 0, 0, amount FROM commission WHERE kind <> 'written-off') x
  GROUP BY story, currency;

-- One index for what is open and for what is in a payout.
ALTER TABLE commission
  ADD KEY paid_out (payout_id, affiliate_id, currency, due_at, amount, left_out),
  DROP KEY payout_id,
  DROP KEY open;
