-- Lines of the general ledger by their day, and what each account moved on each day, so that any day is told at once.
ALTER TABLE journal_line ADD COLUMN IF NOT EXISTS day DATE NULL
-- next
CREATE OR REPLACE TRIGGER journal_line_day BEFORE INSERT ON journal_line FOR EACH ROW FOLLOWS journal_line_before_posting
  SET NEW.day = (SELECT j.day FROM journal j WHERE j.id = NEW.journal_id)
-- next
DROP TRIGGER IF EXISTS journal_line_no_update
-- next
UPDATE journal_line l JOIN journal j ON j.id = l.journal_id SET l.day = j.day WHERE l.day IS NULL
-- next
CREATE OR REPLACE TRIGGER journal_line_no_update BEFORE UPDATE ON journal_line FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal_line: what is posted is never changed; reverse or correct it'
-- next
CREATE INDEX IF NOT EXISTS journal_line_by_day ON journal_line (account_id, day, id, amount)
-- next
CREATE TABLE IF NOT EXISTS account_day (
  account_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  amount BIGINT NOT NULL,
  PRIMARY KEY (account_id, day),
  FOREIGN KEY (account_id) REFERENCES account (id)
)
-- next
-- Up to which journal the days are added up; what came later is added when asked. The next mark waits until whatever was being
-- posted when it was seen is surely done.
CREATE TABLE IF NOT EXISTS account_day_mark (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  up_to BIGINT UNSIGNED NOT NULL,
  next_up_to BIGINT UNSIGNED NOT NULL,
  seen_at DATETIME(6) NOT NULL
)
-- next
-- Nothing posts while tables are brought up to date, so that all there is may be added up at once.
INSERT IGNORE INTO account_day (account_id, day, amount)
  SELECT account_id, day, SUM(amount) FROM journal_line WHERE NOT EXISTS (SELECT 1 FROM account_day_mark) GROUP BY account_id, day
-- next
INSERT IGNORE INTO account_day_mark (id, up_to, next_up_to, seen_at) SELECT 1, COALESCE(MAX(id), 0), COALESCE(MAX(id), 0), NOW(6) FROM journal
-- next
ALTER TABLE account ADD COLUMN IF NOT EXISTS parent_id INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS closed BOOLEAN NOT NULL DEFAULT FALSE,
  ADD FOREIGN KEY IF NOT EXISTS account_parent (parent_id) REFERENCES account (id)
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS year_end CHAR(5) NOT NULL DEFAULT '12-31'
-- next
CREATE TABLE IF NOT EXISTS partner_share (
  account_id INT UNSIGNED NOT NULL PRIMARY KEY,
  basis_points SMALLINT UNSIGNED NOT NULL CHECK (basis_points > 0),
  FOREIGN KEY (account_id) REFERENCES account (id)
)
-- next
-- Closing entries of years, and their reversals: statements of a span leave them out.
CREATE TABLE IF NOT EXISTS closing_journal (
  journal_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  year_to DATE NOT NULL,
  undone_by BIGINT UNSIGNED NULL,
  INDEX (year_to),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
CREATE OR REPLACE TRIGGER closing_journal_no_delete BEFORE DELETE ON closing_journal FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'closing_journal: what is posted is never changed'
-- next
-- A closing moves nothing but income, expenses and equity.
CREATE OR REPLACE TRIGGER closing_journal_kinds BEFORE INSERT ON closing_journal FOR EACH ROW
  IF EXISTS (SELECT 1 FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.journal_id = NEW.journal_id AND a.kind NOT IN ('income', 'expense', 'equity')) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3116, MESSAGE_TEXT = 'a closing entry moves income, expenses and equity only';
  END IF
-- next
-- Whoever posts holds the firm's row in common with others, so that nothing slips into a period at the moment it is closed.
CREATE OR REPLACE TRIGGER journal_in_open_period BEFORE INSERT ON journal FOR EACH ROW
BEGIN
  DECLARE closed_to DATE;
  SELECT books_closed_to INTO closed_to FROM firm LIMIT 1 LOCK IN SHARE MODE;
  IF closed_to >= NEW.day THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3101, MESSAGE_TEXT = 'period-closed';
  END IF;
END
