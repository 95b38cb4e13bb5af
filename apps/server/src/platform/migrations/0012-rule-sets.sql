-- Rule sets that the firm wrote or imported, and its own dates on top of a court's: every edition stays, the last is in force.
-- `body` is the file of the set, or the list of own dates; without a body it is taken away.
CREATE TABLE IF NOT EXISTS rule_set_edition (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  rule_set_key VARCHAR(60) NOT NULL,
  part ENUM('set','practice') NOT NULL,
  no INT UNSIGNED NOT NULL,
  body LONGTEXT NULL,
  note VARCHAR(300) NOT NULL DEFAULT '',
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  UNIQUE (rule_set_key, part, no),
  FOREIGN KEY (created_by) REFERENCES user_account (id)
)
-- next
ALTER TABLE trigger_event MODIFY COLUMN rule_set_edition VARCHAR(60) NOT NULL
-- next
ALTER TABLE matter MODIFY COLUMN facts VARCHAR(1000) NOT NULL DEFAULT '[]'
-- next
-- Days on which only the clerk's office cannot be reached: they put off filing and nothing else.
ALTER TABLE court_closure ADD COLUMN IF NOT EXISTS filing_only BOOLEAN NOT NULL DEFAULT FALSE
