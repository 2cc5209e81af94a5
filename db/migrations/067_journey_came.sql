-- Whoever isn't known yet has no other device: nothing is looked for, which most visits pay for.

DROP TRIGGER journey_came;
CREATE TRIGGER journey_came AFTER INSERT ON journey FOR EACH ROW
IF NEW.person_id IS NULL
THEN INSERT INTO source_change (funnel_id, begun_at, source, device, visited, joined, bought)
VALUES (NEW.funnel_id, NEW.begun_at, NEW.source, NEW.device, 1, 0, NEW.paid > 0); ELSE
INSERT INTO source_change (funnel_id, begun_at, source, device, visited, joined, bought)
SELECT NEW.funnel_id, NEW.begun_at, NEW.source, NEW.device, 1 - t.twin, 1 - t.twin, (NEW.paid > 0) * (1 - t.paid)
FROM (SELECT COUNT(*) > 0 AS twin, COALESCE(MAX(o.paid > 0), 0) AS paid FROM journey o
      WHERE o.person_id = NEW.person_id AND o.funnel_id = NEW.funnel_id AND o.visitor <> NEW.visitor) t; END IF;
