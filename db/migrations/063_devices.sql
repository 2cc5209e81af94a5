-- Numbers by device; somebody with two devices is one person; programs that look at pages are counted for themselves; sources renamed.

ALTER TABLE journey ADD device ENUM('unknown', 'phone', 'tablet', 'computer') NOT NULL DEFAULT 'unknown' COMMENT 'on which it began';
ALTER TABLE source_change ADD device ENUM('unknown', 'phone', 'tablet', 'computer') NOT NULL DEFAULT 'unknown' AFTER source;
ALTER TABLE source_quarter
  ADD device ENUM('unknown', 'phone', 'tablet', 'computer') NOT NULL DEFAULT 'unknown' AFTER source,
  DROP PRIMARY KEY, ADD PRIMARY KEY (funnel_id, begun, source, device);
ALTER TABLE source_day
  ADD device ENUM('unknown', 'phone', 'tablet', 'computer') NOT NULL DEFAULT 'unknown' AFTER source,
  DROP PRIMARY KEY, ADD PRIMARY KEY (funnel_id, begun, source, device);

-- Of a person's journeys on several devices the first that is known to be theirs counts.
DROP TRIGGER journey_came;
CREATE TRIGGER journey_came AFTER INSERT ON journey FOR EACH ROW
INSERT INTO source_change (funnel_id, begun_at, source, device, visited, joined, bought)
SELECT NEW.funnel_id, NEW.begun_at, NEW.source, NEW.device, 1 - t.twin, (NEW.person_id IS NOT NULL) - t.twin, (NEW.paid > 0) * (1 - t.paid)
FROM (SELECT COUNT(*) > 0 AS twin, COALESCE(MAX(o.paid > 0), 0) AS paid FROM journey o
      WHERE o.person_id = NEW.person_id AND o.funnel_id = NEW.funnel_id AND o.visitor <> NEW.visitor) t;

DROP TRIGGER journey_became;
CREATE TRIGGER journey_became AFTER UPDATE ON journey FOR EACH ROW
INSERT INTO source_change (funnel_id, begun_at, source, device, visited, joined, bought)
SELECT c.funnel_id, c.begun_at, c.source, c.device, c.visited, c.joined, c.bought FROM (
  SELECT OLD.funnel_id AS funnel_id, OLD.begun_at AS begun_at, OLD.source AS source, OLD.device AS device, -1 AS visited, -(OLD.person_id IS NOT NULL) AS joined, -(OLD.paid > 0) AS bought
  UNION ALL
  -- Whoever is erased has joined all the same.
  SELECT NEW.funnel_id, NEW.begun_at, NEW.source, NEW.device, 1 - (t.became AND t.twin), (NEW.person_id IS NOT NULL OR OLD.person_id IS NOT NULL) - (t.became AND t.twin),
    IF(NEW.paid > 0, 1 - ((t.became OR OLD.paid = 0) AND t.paid), OLD.paid > 0 AND t.paid)
  FROM (SELECT NOT (NEW.person_id <=> OLD.person_id) AS became, COUNT(*) > 0 AS twin, COALESCE(MAX(o.paid > 0), 0) AS paid FROM journey o
        WHERE o.person_id = NEW.person_id AND o.funnel_id = NEW.funnel_id AND o.visitor <> NEW.visitor) t) c
WHERE NOT (NEW.person_id <=> OLD.person_id) OR (NEW.paid > 0) <> (OLD.paid > 0) OR NEW.source <> OLD.source OR NEW.device <> OLD.device;

-- Those with several devices that were counted before.
INSERT INTO source_change (funnel_id, begun_at, source, device, visited, joined, bought)
SELECT j.funnel_id, j.begun_at, j.source, j.device, -1, -1, -(j.paid > 0 AND MAX(o.paid > 0)) FROM journey j
JOIN journey o ON o.person_id = j.person_id AND o.funnel_id = j.funnel_id AND o.visitor <> j.visitor AND (o.begun_at, o.visitor) < (j.begun_at, j.visitor)
GROUP BY j.funnel_id, j.visitor, j.run;

CREATE TABLE robot_day (
  funnel_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL COMMENT 'of UTC',
  looks BIGINT NOT NULL COMMENT 'at pages where the funnel begins, by programs that say so',
  PRIMARY KEY (funnel_id, day)
) COMMENT 'programs: no journey is theirs';

CREATE TABLE source_called (
  source VARCHAR(80) NOT NULL PRIMARY KEY COMMENT 'as links say it',
  called VARCHAR(80) NOT NULL COMMENT 'under which name it is counted',
  KEY (called)
) COMMENT 'sources that were renamed, or are one';

ALTER TABLE enrolment ADD KEY begun (begun_at);
ALTER TABLE registration ADD KEY made (made_at);
