-- How many a sequence was begun for is asked of the journeys themselves; it is counted aside no longer.
DROP TRIGGER sequence_begun;
CREATE TRIGGER sequence_begun AFTER INSERT ON enrolment FOR EACH ROW
INSERT INTO tally_change (what, about, part, n, money) VALUES ('running', NEW.sequence_id, '', IF(NEW.ended_at IS NULL, 1, 0), 0);
DELETE FROM tally WHERE what = 'begun';
DELETE FROM tally_change WHERE what = 'begun';
