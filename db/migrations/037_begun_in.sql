-- A sequence that several funnels begin is counted for each of them: the quarter-hour with the funnel behind it, 0 for none.
ALTER TABLE tally MODIFY part VARCHAR(28) NOT NULL DEFAULT '' COMMENT 'a state, a currency, or a quarter-hour of UTC and a funnel';
ALTER TABLE tally_change MODIFY part VARCHAR(28) NOT NULL;
DROP TRIGGER sequence_begun;
CREATE TRIGGER sequence_begun AFTER INSERT ON enrolment FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('begun', NEW.sequence_id, CONCAT(DATE_FORMAT(FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(NEW.begun_at) / 900) * 900), '%Y%m%d%H%i'), ':', COALESCE(NEW.funnel_id, 0)), 1, 0),
  ('running', NEW.sequence_id, '', IF(NEW.ended_at IS NULL, 1, 0), 0);
DELETE FROM tally WHERE what = 'begun';
DELETE FROM tally_change WHERE what = 'begun';
INSERT INTO tally (what, about, part, n, money)
SELECT 'begun', sequence_id, CONCAT(DATE_FORMAT(FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(begun_at) / 900) * 900), '%Y%m%d%H%i'), ':', COALESCE(funnel_id, 0)) AS part, COUNT(*), 0 FROM enrolment GROUP BY 2, 3;
