-- Sequences stand on their own: a tree of steps that is worked on, and versions that people are taken through.
ALTER TABLE sequence
  MODIFY state ENUM('draft', 'live', 'paused') NOT NULL DEFAULT 'draft',
  ADD flow MEDIUMTEXT NOT NULL DEFAULT '{"goal":null,"steps":[]}' COMMENT 'JSON: the goal and the steps, as they are being worked on',
  ADD live_version_id INT UNSIGNED NULL;

CREATE TABLE sequence_version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  snapshot MEDIUMTEXT NOT NULL COMMENT 'steps and e-mails, JSON, never changed',
  actor VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NULL,
  UNIQUE KEY (sequence_id, number),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id) ON DELETE CASCADE
);

-- A series of e-mails becomes steps: a wait before each that doesn't come at once.
UPDATE sequence q JOIN (
  SELECT sequence_id, CONCAT('{"goal":null,"steps":[', GROUP_CONCAT(
    IF(after_days = 0 AND at_minute IS NULL, '', CONCAT('{"id":', 2 * id - 1, ',"kind":"wait","wait":{"for":"days","days":', after_days, ',"at":', IFNULL(at_minute, 'null'), '}},')),
    CONCAT('{"id":', 2 * id, ',"kind":"send","mail":', id, '}') ORDER BY position, id SEPARATOR ','), ']}') AS flow
  FROM sequence_mail GROUP BY sequence_id) m ON m.sequence_id = q.id
SET q.flow = m.flow;

ALTER TABLE enrolment
  ADD funnel_id INT UNSIGNED NULL COMMENT 'in which it was begun; null: in none',
  ADD step INT UNSIGNED NULL COMMENT 'where they are; null: they have ended, or are yet to be taken on',
  ADD arrived_at DATETIME(3) NULL COMMENT 'when they came there',
  ADD due_at DATETIME(3) NULL COMMENT 'when they are looked at again; null: when an e-mail has gone',
  ADD listens TINYINT(1) NOT NULL DEFAULT 0 COMMENT 'whether they are looked at whenever something happens to them';
UPDATE enrolment n JOIN `release` r ON r.id = n.release_id SET n.funnel_id = r.funnel_id;
UPDATE enrolment n JOIN mail m ON m.enrolment_id = n.id AND m.state IN ('due', 'sending') SET n.step = 2 * m.sequence_mail_id, n.arrived_at = m.due_at WHERE n.ended_at IS NULL;
ALTER TABLE enrolment
  DROP FOREIGN KEY enrolment_ibfk_3, DROP COLUMN release_id,
  ADD KEY (due_at, id),
  ADD FOREIGN KEY (funnel_id) REFERENCES funnel (id) ON DELETE SET NULL;

-- Something has happened to somebody who is in a sequence that listens: they are looked at before anything is sent.
CREATE TABLE stir (
  person_id INT UNSIGNED NOT NULL PRIMARY KEY,
  at DATETIME(3) NOT NULL COMMENT 'business time',
  FOREIGN KEY (person_id) REFERENCES person (id) ON DELETE CASCADE
);

ALTER TABLE reference
  ADD from_sequence_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (from_sequence_id) REFERENCES sequence (id) ON DELETE CASCADE;

ALTER TABLE sequence_mail DROP COLUMN after_days, DROP COLUMN at_minute, DROP COLUMN position, ADD KEY (sequence_id), DROP KEY sequence_id;
ALTER TABLE mail DROP COLUMN position;
ALTER TABLE mail ADD note VARCHAR(400) NULL COMMENT 'what is said in it besides';
ALTER TABLE sequence DROP FOREIGN KEY sequence_ibfk_1, DROP COLUMN funnel_id;
