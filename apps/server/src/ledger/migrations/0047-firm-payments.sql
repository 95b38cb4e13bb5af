-- Payments out of operating that a payee is written on: checks with numbers of the account, and transfers.
CREATE TABLE IF NOT EXISTS firm_payment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  payee_id INT UNSIGNED NOT NULL,
  method ENUM('check','transfer') NOT NULL,
  check_no INT UNSIGNED NULL,
  day DATE NOT NULL,
  payee_name VARCHAR(160) NOT NULL,
  payee_address VARCHAR(400) NOT NULL DEFAULT '',
  amount BIGINT NOT NULL CHECK (amount > 0),
  memo VARCHAR(200) NOT NULL DEFAULT '',
  state ENUM('draft','posted','void') NOT NULL DEFAULT 'draft',
  journal_id BIGINT UNSIGNED NULL UNIQUE,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (payee_id, day),
  INDEX (day, id),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (payee_id) REFERENCES contact (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
ALTER TABLE check_number ADD COLUMN IF NOT EXISTS firm_payment_id INT UNSIGNED NULL, ADD INDEX IF NOT EXISTS check_of_firm (firm_payment_id)
-- next
CREATE OR REPLACE TRIGGER firm_payment_keeps BEFORE UPDATE ON firm_payment FOR EACH ROW
BEGIN
  IF NEW.bank_account_id <> OLD.bank_account_id OR NEW.payee_id <> OLD.payee_id OR NEW.amount <> OLD.amount OR NEW.day <> OLD.day OR NEW.payee_name <> OLD.payee_name
      OR NEW.payee_address <> OLD.payee_address OR NEW.memo <> OLD.memo OR NEW.method <> OLD.method
      OR (OLD.state <> 'draft' AND (NOT NEW.check_no <=> OLD.check_no OR NOT NEW.journal_id <=> OLD.journal_id)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'firm_payment: what is posted is never changed; reverse or correct it';
  END IF;
  IF OLD.state = 'posted' AND NEW.state <> 'posted' AND NOT (NEW.state = 'void' AND EXISTS (SELECT 1 FROM journal_reversal r WHERE r.journal_id = OLD.journal_id)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'firm_payment: what is posted is never changed; reverse or correct it';
  END IF;
  IF OLD.state = 'void' AND NEW.state <> 'void' THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'firm_payment: what is posted is never changed; reverse or correct it';
  END IF;
  IF NEW.state = 'posted' AND OLD.state = 'draft' AND NOT EXISTS (
      SELECT 1 FROM bank_entry e JOIN journal_posting p ON p.journal_id = e.journal_id
       WHERE e.journal_id = NEW.journal_id AND e.bank_account_id = NEW.bank_account_id AND e.amount = -NEW.amount AND e.day = NEW.day) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3105, MESSAGE_TEXT = 'firm_payment: posted without a journal of its amount';
  END IF;
END
-- next
CREATE OR REPLACE TRIGGER firm_payment_no_delete BEFORE DELETE ON firm_payment FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'firm_payment: what is posted is never changed; reverse or correct it'
-- next
-- The account of discounts that vendors grant; a firm that has its number in use gets the next free one.
INSERT IGNORE INTO account (code, name, kind, role)
  SELECT (SELECT CAST(n AS CHAR) FROM (SELECT 4900 AS n UNION ALL SELECT 4901 UNION ALL SELECT 4902 UNION ALL SELECT 4989) x WHERE NOT EXISTS (SELECT 1 FROM account a WHERE a.code = CAST(n AS CHAR)) ORDER BY n LIMIT 1),
         'Discounts of vendors', 'income', 'vendor discounts' FROM firm WHERE NOT EXISTS (SELECT 1 FROM account a WHERE a.role = 'vendor discounts') LIMIT 1
-- next
-- On paid money an expense counts when it is paid: what was booked while it was owed is taken out on its day, and put in on the day of each payment.
CREATE TABLE IF NOT EXISTS cash_shift (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  journal_id BIGINT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  amount BIGINT NOT NULL,
  INDEX (day, account_id),
  INDEX (journal_id),
  FOREIGN KEY (journal_id) REFERENCES journal (id),
  FOREIGN KEY (account_id) REFERENCES account (id)
)
-- next
CREATE OR REPLACE TRIGGER cash_shift_no_update BEFORE UPDATE ON cash_shift FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'cash_shift: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER cash_shift_no_delete BEFORE DELETE ON cash_shift FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'cash_shift: what is posted is never changed; reverse or correct it'
