-- Tasks in full
ALTER TABLE task ADD COLUMN IF NOT EXISTS details TEXT NOT NULL DEFAULT '';
ALTER TABLE task ADD COLUMN IF NOT EXISTS due_time TIME NULL;
ALTER TABLE task ADD COLUMN IF NOT EXISTS remind_on DATE NULL;
ALTER TABLE task ADD COLUMN IF NOT EXISTS reminded_at DATETIME(6) NULL;
ALTER TABLE task ADD COLUMN IF NOT EXISTS estimate_minutes SMALLINT UNSIGNED NULL;
ALTER TABLE task ADD COLUMN IF NOT EXISTS only_named BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE task ADD COLUMN IF NOT EXISTS due_by_hand BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE task ADD COLUMN IF NOT EXISTS step_key VARCHAR(20) NULL;
ALTER TABLE task ADD COLUMN IF NOT EXISTS version INT UNSIGNED NOT NULL DEFAULT 1;
CREATE INDEX IF NOT EXISTS task_due ON task (done_at, due_on);
CREATE INDEX IF NOT EXISTS task_assigner ON task (assigned_by, done_at);
CREATE INDEX IF NOT EXISTS task_remind ON task (remind_on, reminded_at);
CREATE INDEX IF NOT EXISTS task_run ON task (run_id);
CREATE TABLE IF NOT EXISTS task_person (
  task_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (task_id, user_id),
  FOREIGN KEY (task_id) REFERENCES task (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS task_item (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  task_id INT UNSIGNED NOT NULL,
  ordinal SMALLINT NOT NULL,
  text VARCHAR(200) NOT NULL,
  done BOOLEAN NOT NULL DEFAULT FALSE,
  INDEX (task_id, ordinal),
  FOREIGN KEY (task_id) REFERENCES task (id)
);
CREATE TABLE IF NOT EXISTS task_comment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  task_id INT UNSIGNED NOT NULL,
  author_id INT UNSIGNED NOT NULL,
  text VARCHAR(2000) NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (task_id, id),
  FOREIGN KEY (task_id) REFERENCES task (id),
  FOREIGN KEY (author_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS task_paper (
  task_id INT UNSIGNED NOT NULL,
  paper_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (task_id, paper_id),
  FOREIGN KEY (task_id) REFERENCES task (id),
  FOREIGN KEY (paper_id) REFERENCES paper (id)
);
CREATE TABLE IF NOT EXISTS task_wait (
  task_id INT UNSIGNED NOT NULL,
  waits_for INT UNSIGNED NOT NULL,
  PRIMARY KEY (task_id, waits_for),
  INDEX (waits_for),
  FOREIGN KEY (task_id) REFERENCES task (id),
  FOREIGN KEY (waits_for) REFERENCES task (id)
);

-- Procedures in versions: what was started keeps the version it was started from
ALTER TABLE procedure_def ADD COLUMN IF NOT EXISTS retired BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE procedure_def ADD COLUMN IF NOT EXISTS version SMALLINT NOT NULL DEFAULT 1;
CREATE TABLE IF NOT EXISTS procedure_version (
  procedure_id INT UNSIGNED NOT NULL,
  version SMALLINT NOT NULL,
  steps LONGTEXT NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(6) NOT NULL,
  PRIMARY KEY (procedure_id, version),
  FOREIGN KEY (procedure_id) REFERENCES procedure_def (id)
);
INSERT IGNORE INTO procedure_version (procedure_id, version, steps, made_by, made_at)
  SELECT procedure_id, 1, CONCAT('[', GROUP_CONCAT(JSON_OBJECT(
    'key', CONCAT('s', ordinal), 'text', text, 'assignTo', CASE assign_to WHEN 'starter' THEN JSON_OBJECT('kind', 'starter') ELSE JSON_OBJECT('kind', 'role', 'role', assign_to) END,
    'priority', priority, 'estimateMinutes', NULL, 'remindDays', NULL, 'waitsFor', JSON_ARRAY(),
    'due', JSON_OBJECT('count', count, 'unit', unit, 'direction', direction, 'anchor', IF(anchor_step IS NULL, JSON_OBJECT('kind', 'start'), JSON_OBJECT('kind', 'step', 'step', CONCAT('s', anchor_step))))
  ) ORDER BY ordinal SEPARATOR ','), ']'), NULL, UTC_TIMESTAMP(6) FROM procedure_step GROUP BY procedure_id;
ALTER TABLE procedure_run ADD COLUMN IF NOT EXISTS version SMALLINT NOT NULL DEFAULT 1;
ALTER TABLE procedure_run ADD COLUMN IF NOT EXISTS anchors LONGTEXT NOT NULL DEFAULT '{}';
ALTER TABLE procedure_run ADD COLUMN IF NOT EXISTS given_to INT UNSIGNED NULL;
UPDATE task SET step_key = CONCAT('s', step) WHERE step_key IS NULL AND step IS NOT NULL;
