-- What stands on letters and bills besides name, address and telephone.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS letter_line VARCHAR(120) NOT NULL DEFAULT ''
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS letter_email VARCHAR(190) NOT NULL DEFAULT ''
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS letter_web VARCHAR(120) NOT NULL DEFAULT ''
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS letter_foot VARCHAR(300) NOT NULL DEFAULT ''
-- next
-- Court days before a date on which its people are reminded: of whoever chose none, and of strict dates always.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS usual_leads VARCHAR(60) NOT NULL DEFAULT '10,5,1,0'
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS strict_leads VARCHAR(60) NOT NULL DEFAULT '10,5,1,0'
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS letters_from CHAR(5) NOT NULL DEFAULT '06:00'
-- next
-- The log by kind, newest first, for whoever looks for one kind of act across the firm.
CREATE INDEX IF NOT EXISTS audit_kind ON audit_log (kind, id)
-- next
-- Backups that were asked for or made by night; whoever runs the application makes them and writes here what came of it.
CREATE TABLE IF NOT EXISTS backup (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  wanted_at DATETIME(6) NOT NULL,
  user_id INT UNSIGNED NULL,
  ended_at DATETIME(6) NULL,
  state ENUM('wanted','running','done','failed') NOT NULL DEFAULT 'wanted',
  name VARCHAR(60) NOT NULL DEFAULT '',
  place VARCHAR(400) NOT NULL DEFAULT '',
  size BIGINT UNSIGNED NOT NULL DEFAULT 0,
  tables INT UNSIGNED NOT NULL DEFAULT 0,
  row_count BIGINT UNSIGNED NOT NULL DEFAULT 0,
  files INT UNSIGNED NOT NULL DEFAULT 0,
  tried_at DATETIME(6) NULL,
  restored BOOLEAN NOT NULL DEFAULT FALSE,
  words VARCHAR(500) NOT NULL DEFAULT '',
  INDEX (state),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
