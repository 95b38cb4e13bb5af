-- What triggers answer, and whether they still stand. What is taken away stays for its history, left out of everything.
ALTER TABLE trigger_event ADD COLUMN IF NOT EXISTS answers_id INT UNSIGNED NULL
-- next
ALTER TABLE trigger_event ADD COLUMN IF NOT EXISTS removed_at DATETIME(6) NULL
-- next
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS rule_day DATE NULL
-- next
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS chain_follows BOOLEAN NOT NULL DEFAULT FALSE
-- next
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS reason VARCHAR(300) NOT NULL DEFAULT ''
-- next
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS paper_id INT UNSIGNED NULL
-- next
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS removed_at DATETIME(6) NULL
-- next
ALTER TABLE docket_entry MODIFY COLUMN counted_from VARCHAR(1000) NOT NULL DEFAULT '[]'
-- next
-- Days set by hand before this was kept: what the rule gave then stands in the history.
UPDATE docket_entry d SET rule_day = (SELECT h.was FROM docket_history h WHERE h.entry_id = d.id AND h.what = 'moved' ORDER BY h.id LIMIT 1)
  WHERE d.set_by <> 'rule' AND d.deadline_key IS NOT NULL AND d.rule_day IS NULL
-- next
-- One act on a docket, with what must be put back to undo it and how it left what it changed.
CREATE TABLE IF NOT EXISTS docket_change (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  text VARCHAR(300) NOT NULL,
  put_back LONGTEXT NOT NULL,
  left_as LONGTEXT NOT NULL,
  undone_at DATETIME(6) NULL,
  INDEX (matter_id, id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- Days on which a court is closed beyond its rules, as the firm learns of them. Without a rule set: every court.
CREATE TABLE IF NOT EXISTS court_closure (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  rule_set_key VARCHAR(60) NULL,
  day DATE NOT NULL,
  name VARCHAR(120) NOT NULL,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (day),
  FOREIGN KEY (created_by) REFERENCES user_account (id)
)
