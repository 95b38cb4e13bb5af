-- Up to which day each account is closed; months that were opened again do not count. Kept by the database alone.
CREATE TABLE IF NOT EXISTS bank_closed (
  bank_account_id INT UNSIGNED NOT NULL PRIMARY KEY,
  to_day DATE NOT NULL,
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
INSERT IGNORE INTO bank_closed (bank_account_id, to_day) SELECT bank_account_id, MAX(to_day) FROM reconciliation GROUP BY bank_account_id
-- next
-- A month that was opened again by two people; its old report stays as it was.
CREATE TABLE IF NOT EXISTS reconciliation_reopened (
  reconciliation_id INT UNSIGNED NOT NULL PRIMARY KEY,
  asked_by INT UNSIGNED NOT NULL,
  agreed_by INT UNSIGNED NOT NULL,
  reason VARCHAR(300) NOT NULL CHECK (reason <> ''),
  at DATETIME(6) NOT NULL,
  CONSTRAINT reopened_by_two CHECK (asked_by <> agreed_by),
  FOREIGN KEY (reconciliation_id) REFERENCES reconciliation (id)
)
-- next
-- What one person asks of a month, and another agrees to: that it be closed, or opened again.
CREATE TABLE IF NOT EXISTS month_request (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  kind ENUM('close','reopen') NOT NULL,
  to_day DATE NOT NULL,
  bank BIGINT NOT NULL DEFAULT 0,
  book BIGINT NOT NULL DEFAULT 0,
  reason VARCHAR(300) NOT NULL DEFAULT '',
  asked_by INT UNSIGNED NOT NULL,
  asked_at DATETIME(6) NOT NULL,
  state ENUM('asked','done','refused') NOT NULL DEFAULT 'asked',
  decided_by INT UNSIGNED NULL,
  INDEX (bank_account_id, to_day, state),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
ALTER TABLE reconciliation ADD INDEX IF NOT EXISTS reconciliation_month (bank_account_id, to_day, id)
-- next
ALTER TABLE reconciliation DROP INDEX IF EXISTS bank_account_id
-- next
ALTER TABLE reconciliation ADD COLUMN IF NOT EXISTS approved_by INT UNSIGNED NULL
-- next
CREATE OR REPLACE TRIGGER reconciliation_closes AFTER INSERT ON reconciliation FOR EACH ROW
  INSERT INTO bank_closed (bank_account_id, to_day) VALUES (NEW.bank_account_id, NEW.to_day) ON DUPLICATE KEY UPDATE to_day = GREATEST(bank_closed.to_day, NEW.to_day)
-- next
-- Only the last closed month is opened again: those before it stand on each other.
CREATE OR REPLACE TRIGGER reconciliation_reopens BEFORE INSERT ON reconciliation_reopened FOR EACH ROW
BEGIN
  DECLARE bank INT UNSIGNED;
  DECLARE until_day DATE;
  DECLARE earlier DATE;
  SELECT bank_account_id, to_day INTO bank, until_day FROM reconciliation WHERE id = NEW.reconciliation_id;
  IF NOT EXISTS (SELECT 1 FROM bank_closed c WHERE c.bank_account_id = bank AND c.to_day = until_day)
     OR EXISTS (SELECT 1 FROM reconciliation r WHERE r.bank_account_id = bank AND r.to_day = until_day AND r.id > NEW.reconciliation_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'only the month that was closed last is opened again';
  END IF;
  SELECT MAX(r.to_day) INTO earlier FROM reconciliation r WHERE r.bank_account_id = bank AND r.to_day < until_day
     AND NOT EXISTS (SELECT 1 FROM reconciliation_reopened o WHERE o.reconciliation_id = r.id);
  IF earlier IS NULL THEN DELETE FROM bank_closed WHERE bank_account_id = bank;
  ELSE UPDATE bank_closed SET to_day = earlier WHERE bank_account_id = bank; END IF;
END
-- next
CREATE OR REPLACE TRIGGER reconciliation_reopened_no_update BEFORE UPDATE ON reconciliation_reopened FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'reconciliation_reopened: what is decided is never changed'
-- next
CREATE OR REPLACE TRIGGER reconciliation_reopened_no_delete BEFORE DELETE ON reconciliation_reopened FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'reconciliation_reopened: what is decided is never changed'
-- next
-- A closed month is not moved: nothing is dated into it, and what was matched in it stays so.
CREATE OR REPLACE TRIGGER bank_entry_month BEFORE INSERT ON bank_entry FOR EACH ROW
BEGIN
  DECLARE n INT;
  -- Whoever closes a month holds the account: what is posted at that moment waits, and is then judged by what was closed.
  SELECT id INTO n FROM bank_account WHERE id = NEW.bank_account_id LOCK IN SHARE MODE;
  SELECT COUNT(*) INTO n FROM bank_closed WHERE bank_account_id = NEW.bank_account_id AND to_day >= NEW.day LOCK IN SHARE MODE;
  IF n > 0 THEN SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed'; END IF;
END
-- next
-- A match that stands in both records by the end of a closed month is part of it: it is neither made, changed nor taken apart.
CREATE OR REPLACE TRIGGER bank_match_made BEFORE INSERT ON bank_match FOR EACH ROW
  IF EXISTS (SELECT 1 FROM bank_closed r WHERE r.bank_account_id = NEW.bank_account_id AND r.to_day >= GREATEST(NEW.line_day, NEW.entry_day)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_match_changed BEFORE UPDATE ON bank_match FOR EACH ROW
  IF EXISTS (SELECT 1 FROM bank_closed r WHERE r.bank_account_id = OLD.bank_account_id AND r.to_day >= LEAST(GREATEST(OLD.line_day, OLD.entry_day), GREATEST(NEW.line_day, NEW.entry_day))) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_match_parted BEFORE DELETE ON bank_match FOR EACH ROW
  IF EXISTS (SELECT 1 FROM bank_closed r WHERE r.bank_account_id = OLD.bank_account_id AND r.to_day >= GREATEST(OLD.line_day, OLD.entry_day)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_match_line_parted BEFORE DELETE ON bank_match_line FOR EACH ROW
  IF EXISTS (SELECT 1 FROM bank_match x JOIN bank_closed r ON r.bank_account_id = x.bank_account_id AND r.to_day >= GREATEST(x.line_day, x.entry_day) WHERE x.id = OLD.match_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_match_entry_parted BEFORE DELETE ON bank_match_entry FOR EACH ROW
  IF EXISTS (SELECT 1 FROM bank_match x JOIN bank_closed r ON r.bank_account_id = x.bank_account_id AND r.to_day >= GREATEST(x.line_day, x.entry_day) WHERE x.id = OLD.match_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
-- Nothing moves a ledger in a month of its account that is closed, also where no bank moves.
CREATE OR REPLACE TRIGGER ledger_entry_month BEFORE INSERT ON ledger_entry FOR EACH ROW FOLLOWS ledger_entry_before_posting
BEGIN
  DECLARE n INT;
  DECLARE bank INT UNSIGNED;
  SELECT bank_account_id INTO bank FROM client_ledger WHERE id = NEW.ledger_id;
  SELECT id INTO n FROM bank_account WHERE id = bank LOCK IN SHARE MODE;
  SELECT COUNT(*) INTO n FROM bank_closed WHERE bank_account_id = bank AND to_day >= NEW.day LOCK IN SHARE MODE;
  IF n > 0 THEN SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed'; END IF;
END
