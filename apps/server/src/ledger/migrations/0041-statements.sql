-- What the bank says of an account. Statements and their lines are kept as they were read, and never changed.
CREATE TABLE IF NOT EXISTS bank_csv_match (
  bank_account_id INT UNSIGNED NOT NULL PRIMARY KEY,
  columns LONGTEXT NOT NULL,
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
-- Files that were read for an account, and may be taken for it.
CREATE TABLE IF NOT EXISTS bank_read (
  file_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
-- Balances of an account as of a day are added up from this alone.
ALTER TABLE bank_entry ADD INDEX IF NOT EXISTS bank_entry_sum (bank_account_id, day, amount)
-- next
CREATE TABLE IF NOT EXISTS bank_statement (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  file_id BIGINT UNSIGNED NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  format VARCHAR(10) NOT NULL,
  from_day DATE NOT NULL,
  to_day DATE NOT NULL,
  opening BIGINT NULL,
  closing BIGINT NULL,
  line_count INT UNSIGNED NOT NULL,
  fresh_count INT UNSIGNED NOT NULL,
  -- What does not add up, and why a person took it nevertheless.
  difference BIGINT NOT NULL DEFAULT 0,
  accepted VARCHAR(300) NOT NULL DEFAULT '',
  read_by INT UNSIGNED NOT NULL,
  read_at DATETIME(6) NOT NULL,
  INDEX (bank_account_id, to_day),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS bank_line (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  statement_id INT UNSIGNED NOT NULL,
  bank_account_id INT UNSIGNED NOT NULL,
  -- As the bank writes it, and the day on which it counts here: within its statement, and in no month that was closed when it came.
  day DATE NOT NULL,
  counts_on DATE NOT NULL,
  amount BIGINT NOT NULL CHECK (amount <> 0),
  bank_id VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL DEFAULT '',
  check_no VARCHAR(12) NOT NULL DEFAULT '',
  reference VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL DEFAULT '',
  kind VARCHAR(60) NOT NULL DEFAULT '',
  text VARCHAR(300) NOT NULL DEFAULT '',
  details LONGTEXT NOT NULL DEFAULT '[]',
  INDEX (bank_account_id, day, id),
  INDEX (bank_account_id, counts_on, amount),
  INDEX (statement_id),
  FOREIGN KEY (statement_id) REFERENCES bank_statement (id)
)
-- next
-- Which lines are which entries of the book.
CREATE TABLE IF NOT EXISTS bank_match (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  way VARCHAR(30) NOT NULL,
  why VARCHAR(200) NOT NULL,
  -- What the bank moved beyond what the book says, with a name for it; nothing where both agree.
  difference BIGINT NOT NULL DEFAULT 0,
  named VARCHAR(200) NOT NULL DEFAULT '',
  -- The last day of its lines and of its entries: from when on it stands in both records.
  line_day DATE NOT NULL,
  entry_day DATE NOT NULL,
  -- Nobody where what is sure was matched by itself.
  user_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  INDEX (bank_account_id, line_day),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS bank_match_line (
  line_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  match_id INT UNSIGNED NOT NULL,
  INDEX (match_id),
  FOREIGN KEY (line_id) REFERENCES bank_line (id),
  FOREIGN KEY (match_id) REFERENCES bank_match (id)
)
-- next
CREATE TABLE IF NOT EXISTS bank_match_entry (
  entry_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  match_id INT UNSIGNED NOT NULL,
  INDEX (match_id),
  FOREIGN KEY (entry_id) REFERENCES bank_entry (id),
  FOREIGN KEY (match_id) REFERENCES bank_match (id)
)
-- next
-- Lines that are carried as named items, such as an error of the bank that it will mend.
CREATE TABLE IF NOT EXISTS bank_line_name (
  line_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  words VARCHAR(200) NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  FOREIGN KEY (line_id) REFERENCES bank_line (id)
)
-- next
-- From which day an account is reconciled here. Of what stands in the book before it, only these were still in transit.
CREATE TABLE IF NOT EXISTS bank_start (
  bank_account_id INT UNSIGNED NOT NULL PRIMARY KEY,
  day DATE NOT NULL,
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS bank_start_entry (
  entry_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  FOREIGN KEY (entry_id) REFERENCES bank_entry (id)
)
-- next
-- A month that was closed: its figures and lists as they were, and the report as it was made.
CREATE TABLE IF NOT EXISTS reconciliation (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  to_day DATE NOT NULL,
  figures LONGTEXT NOT NULL,
  closed_by INT UNSIGNED NOT NULL,
  closed_at DATETIME(6) NOT NULL,
  file_id BIGINT UNSIGNED NOT NULL,
  UNIQUE (bank_account_id, to_day),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
-- A closed month is not moved: nothing is dated into it, and what was matched in it stays so.
CREATE OR REPLACE TRIGGER bank_entry_month BEFORE INSERT ON bank_entry FOR EACH ROW
BEGIN
  DECLARE n INT;
  -- Whoever closes a month holds the account: what is posted at that moment waits, and is then judged by what was closed.
  SELECT id INTO n FROM bank_account WHERE id = NEW.bank_account_id LOCK IN SHARE MODE;
  SELECT COUNT(*) INTO n FROM reconciliation WHERE bank_account_id = NEW.bank_account_id AND to_day >= NEW.day LOCK IN SHARE MODE;
  IF n > 0 THEN SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed'; END IF;
END
-- next
-- A match that stands in both records by the end of a closed month is part of it: it is neither made, changed nor taken apart.
CREATE OR REPLACE TRIGGER bank_match_made BEFORE INSERT ON bank_match FOR EACH ROW
  IF EXISTS (SELECT 1 FROM reconciliation r WHERE r.bank_account_id = NEW.bank_account_id AND r.to_day >= GREATEST(NEW.line_day, NEW.entry_day)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_match_changed BEFORE UPDATE ON bank_match FOR EACH ROW
  IF EXISTS (SELECT 1 FROM reconciliation r WHERE r.bank_account_id = OLD.bank_account_id AND r.to_day >= LEAST(GREATEST(OLD.line_day, OLD.entry_day), GREATEST(NEW.line_day, NEW.entry_day))) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_match_parted BEFORE DELETE ON bank_match FOR EACH ROW
  IF EXISTS (SELECT 1 FROM reconciliation r WHERE r.bank_account_id = OLD.bank_account_id AND r.to_day >= GREATEST(OLD.line_day, OLD.entry_day)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_match_line_parted BEFORE DELETE ON bank_match_line FOR EACH ROW
  IF EXISTS (SELECT 1 FROM bank_match x JOIN reconciliation r ON r.bank_account_id = x.bank_account_id AND r.to_day >= GREATEST(x.line_day, x.entry_day) WHERE x.id = OLD.match_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_match_entry_parted BEFORE DELETE ON bank_match_entry FOR EACH ROW
  IF EXISTS (SELECT 1 FROM bank_match x JOIN reconciliation r ON r.bank_account_id = x.bank_account_id AND r.to_day >= GREATEST(x.line_day, x.entry_day) WHERE x.id = OLD.match_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed';
  END IF
-- next
CREATE OR REPLACE TRIGGER bank_statement_stays_update BEFORE UPDATE ON bank_statement FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'what the bank said, and a month that was closed, is never changed'
-- next
CREATE OR REPLACE TRIGGER bank_statement_stays_delete BEFORE DELETE ON bank_statement FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'what the bank said, and a month that was closed, is never changed'
-- next
CREATE OR REPLACE TRIGGER bank_line_stays_update BEFORE UPDATE ON bank_line FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'what the bank said, and a month that was closed, is never changed'
-- next
CREATE OR REPLACE TRIGGER bank_line_stays_delete BEFORE DELETE ON bank_line FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'what the bank said, and a month that was closed, is never changed'
-- next
CREATE OR REPLACE TRIGGER reconciliation_stays_update BEFORE UPDATE ON reconciliation FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'what the bank said, and a month that was closed, is never changed'
-- next
CREATE OR REPLACE TRIGGER reconciliation_stays_delete BEFORE DELETE ON reconciliation FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'what the bank said, and a month that was closed, is never changed'
