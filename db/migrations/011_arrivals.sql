-- Arrivals wait for their sums as everything else that is counted does: whatever is committed is taken, with no horizon.
CREATE TABLE flow_change (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  funnel_id INT UNSIGNED NOT NULL,
  begun_at DATETIME(3) NOT NULL,
  step_id INT UNSIGNED NOT NULL,
  from_step_id INT UNSIGNED NOT NULL,
  outcome VARCHAR(20) NOT NULL,
  via ENUM('source', 'page', 'mail') NOT NULL,
  source VARCHAR(80) NOT NULL COMMENT 'only where they come in',
  money BIGINT NOT NULL
) COMMENT 'not in the sums yet';

CREATE TRIGGER arrived AFTER INSERT ON fact FOR EACH ROW
INSERT INTO flow_change (funnel_id, begun_at, step_id, from_step_id, outcome, via, source, money)
SELECT NEW.funnel_id, NEW.begun_at, NEW.step_id, COALESCE(NEW.from_step_id, 0), COALESCE(NEW.outcome, ''), NEW.via, IF(NEW.via = 'source', NEW.source, ''), NEW.money
FROM DUAL WHERE NEW.kind = 'arrived';

INSERT INTO flow_change (funnel_id, begun_at, step_id, from_step_id, outcome, via, source, money)
SELECT funnel_id, begun_at, step_id, COALESCE(from_step_id, 0), COALESCE(outcome, ''), via, IF(via = 'source', source, ''), money
FROM fact WHERE kind = 'arrived' AND id > (SELECT fact_id FROM rollup_mark WHERE name = 'river');
DELETE FROM rollup_mark WHERE name = 'river';
