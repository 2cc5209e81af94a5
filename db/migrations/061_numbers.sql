-- Numbers: journeys by where they came from, summed by quarter-hour and by day of UTC; and what sources cost.

CREATE TABLE source_quarter (
  funnel_id INT UNSIGNED NOT NULL,
  begun DATETIME NOT NULL COMMENT 'the quarter-hour of UTC in which the journeys began',
  source VARCHAR(80) NOT NULL,
  visited BIGINT NOT NULL,
  joined BIGINT NOT NULL COMMENT 'of them, who is known by now: they confirmed their address, or bought',
  bought BIGINT NOT NULL COMMENT 'of them, who has paid by now',
  PRIMARY KEY (funnel_id, begun, source)
) COMMENT 'journeys by source';
CREATE TABLE source_day LIKE source_quarter;

CREATE TABLE source_change (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  begun_at DATETIME(3) NOT NULL,
  source VARCHAR(80) NOT NULL,
  visited INT NOT NULL,
  joined INT NOT NULL,
  bought INT NOT NULL,
  KEY (funnel_id, begun_at)
) COMMENT 'not in the sums yet';

CREATE TRIGGER journey_came AFTER INSERT ON journey FOR EACH ROW
INSERT INTO source_change (funnel_id, begun_at, source, visited, joined, bought)
VALUES (NEW.funnel_id, NEW.begun_at, NEW.source, 1, NEW.person_id IS NOT NULL, NEW.paid > 0);

CREATE TRIGGER journey_became AFTER UPDATE ON journey FOR EACH ROW
INSERT INTO source_change (funnel_id, begun_at, source, visited, joined, bought)
-- Whoever is erased has joined all the same.
SELECT c.funnel_id, c.begun_at, c.source, c.visited, c.joined, c.bought FROM (
  SELECT OLD.funnel_id AS funnel_id, OLD.begun_at AS begun_at, OLD.source AS source, -1 AS visited, -(OLD.person_id IS NOT NULL) AS joined, -(OLD.paid > 0) AS bought
  UNION ALL SELECT NEW.funnel_id, NEW.begun_at, NEW.source, 1, NEW.person_id IS NOT NULL OR OLD.person_id IS NOT NULL, NEW.paid > 0) c
WHERE (OLD.person_id IS NULL AND NEW.person_id IS NOT NULL) OR (NEW.paid > 0) <> (OLD.paid > 0) OR NEW.source <> OLD.source;

INSERT INTO source_quarter (funnel_id, begun, source, visited, joined, bought)
SELECT funnel_id, FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(begun_at) / 900) * 900), source, COUNT(*), SUM(person_id IS NOT NULL), SUM(paid > 0) FROM journey GROUP BY 1, 2, 3;
INSERT INTO source_day (funnel_id, begun, source, visited, joined, bought)
SELECT funnel_id, DATE(begun), source, SUM(visited), SUM(joined), SUM(bought) FROM source_quarter GROUP BY 1, 2, 3;

CREATE TABLE source_cost (
  source VARCHAR(80) NOT NULL,
  day DATE NOT NULL COMMENT 'of the school''s zone',
  amount BIGINT NOT NULL COMMENT 'minor units of the school''s currency',
  PRIMARY KEY (source, day),
  KEY (day)
) COMMENT 'what a source cost';

ALTER TABLE school ADD margin SMALLINT UNSIGNED NOT NULL DEFAULT 3000 COMMENT 'what is to be left of what a visitor brings, basis points';
