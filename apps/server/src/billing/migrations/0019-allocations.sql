-- What settles bills: payments, credit notes, write-offs and voids are documents of one kind, each applied line by line.
ALTER TABLE payment MODIFY COLUMN kind ENUM('trust','check','card','transfer','bank debit','credit note','write-off','void') NOT NULL
-- next
ALTER TABLE payment
  ADD COLUMN IF NOT EXISTS number VARCHAR(20) NULL UNIQUE,
  ADD COLUMN IF NOT EXISTS reason VARCHAR(300) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS bank_account_id INT UNSIGNED NULL REFERENCES bank_account (id)
-- next
-- The journal by which a part was applied or taken off; null on parts of before, which went with their payment's own.
ALTER TABLE allocation ADD COLUMN IF NOT EXISTS journal_id BIGINT UNSIGNED NULL REFERENCES journal (id), ADD INDEX IF NOT EXISTS allocation_journal (journal_id)
-- next
CREATE TABLE IF NOT EXISTS payment_reversal (
  payment_id INT UNSIGNED NOT NULL PRIMARY KEY,
  journal_id BIGINT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  reason VARCHAR(300) NOT NULL,
  FOREIGN KEY (payment_id) REFERENCES payment (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
INSERT IGNORE INTO payment_reversal (payment_id, journal_id, day, reason)
  SELECT p.id, r.reversal_id, j.day, r.reason FROM payment p JOIN journal_reversal r ON r.journal_id = p.journal_id JOIN journal j ON j.id = r.reversal_id
-- next
-- What became of money that was on no bill: paid back, or taken into trust.
CREATE TABLE IF NOT EXISTS credit_use (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  payment_id INT UNSIGNED NOT NULL,
  kind ENUM('refund','to trust') NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  day DATE NOT NULL,
  reference VARCHAR(60) NOT NULL DEFAULT '',
  journal_id BIGINT UNSIGNED NOT NULL UNIQUE,
  INDEX (payment_id),
  FOREIGN KEY (payment_id) REFERENCES payment (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
CREATE OR REPLACE TRIGGER payment_reversal_no_update BEFORE UPDATE ON payment_reversal FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'payment_reversal: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER payment_reversal_no_delete BEFORE DELETE ON payment_reversal FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'payment_reversal: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER credit_use_no_update BEFORE UPDATE ON credit_use FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'credit_use: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER credit_use_no_delete BEFORE DELETE ON credit_use FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'credit_use: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER credit_use_fits BEFORE INSERT ON credit_use FOR EACH ROW
  IF NEW.amount + COALESCE((SELECT SUM(u.amount) FROM credit_use u WHERE u.payment_id = NEW.payment_id), 0)
      + COALESCE((SELECT SUM(a.amount) FROM allocation a WHERE a.payment_id = NEW.payment_id), 0) > (SELECT p.amount FROM payment p WHERE p.id = NEW.payment_id)
      OR EXISTS (SELECT 1 FROM payment_reversal r WHERE r.payment_id = NEW.payment_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3111, MESSAGE_TEXT = 'credit_use: more than is left of the payment';
  END IF
-- next
-- A line is never paid above its amount nor below nothing, and a document never pays more than it is.
CREATE OR REPLACE TRIGGER allocation_fits BEFORE INSERT ON allocation FOR EACH ROW
BEGIN
  DECLARE on_line BIGINT DEFAULT 0;
  DECLARE of_payment BIGINT DEFAULT 0;
  SELECT COALESCE(SUM(a.amount), 0) + NEW.amount INTO on_line FROM allocation a WHERE a.bill_line_id = NEW.bill_line_id;
  IF on_line < 0 OR on_line > (SELECT l.net FROM bill_line l WHERE l.id = NEW.bill_line_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3110, MESSAGE_TEXT = 'allocation: a line is paid between nothing and its amount';
  END IF;
  SELECT COALESCE(SUM(a.amount), 0) + NEW.amount INTO of_payment FROM allocation a WHERE a.payment_id = NEW.payment_id;
  IF of_payment < 0 OR of_payment + COALESCE((SELECT SUM(u.amount) FROM credit_use u WHERE u.payment_id = NEW.payment_id), 0) > (SELECT p.amount FROM payment p WHERE p.id = NEW.payment_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3110, MESSAGE_TEXT = 'allocation: a document pays no more than it is';
  END IF;
END
-- next
-- Banks are accounts of their own; the one of each kind that is usual is offered first.
ALTER TABLE bank_account ADD COLUMN IF NOT EXISTS usual BOOLEAN NOT NULL DEFAULT FALSE
-- next
UPDATE bank_account b JOIN (SELECT MIN(id) AS id FROM bank_account GROUP BY kind) f ON f.id = b.id SET b.usual = TRUE
  WHERE NOT EXISTS (SELECT 1 FROM (SELECT kind FROM bank_account WHERE usual) u WHERE u.kind = b.kind)
-- next
UPDATE account SET role = NULL WHERE role IN ('operating bank', 'trust bank', 'trust liability')
-- next
INSERT IGNORE INTO account (code, name, kind, role) SELECT '5850', 'Bad debts', 'expense', 'bad debts' FROM firm
-- next
-- As before, but money may come back into trust without a bill: what a payer paid too much, or a credit of theirs.
CREATE OR REPLACE TRIGGER journal_posting_trust BEFORE INSERT ON journal_posting FOR EACH ROW FOLLOWS journal_posting_balances
BEGIN
  DECLARE from_clients BIGINT DEFAULT 0;
  DECLARE to_firm BIGINT DEFAULT 0;
  DECLARE on_bills BIGINT DEFAULT 0;
  SELECT COALESCE(SUM(e.amount), 0) INTO from_clients FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE e.journal_id = NEW.journal_id AND c.kind <> 'firm';
  IF from_clients <> 0 THEN
    SELECT COALESCE(SUM(e.amount), 0) INTO to_firm FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.journal_id = NEW.journal_id AND b.kind = 'operating';
    SELECT COALESCE(SUM(l.amount), 0) INTO on_bills FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.journal_id = NEW.journal_id AND a.role = 'receivable' AND l.bill_id IS NOT NULL;
    IF (to_firm <> 0 OR on_bills <> 0) AND (to_firm <> -from_clients OR (on_bills <> from_clients AND NOT (from_clients > 0 AND on_bills = 0))) THEN
      SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3106, MESSAGE_TEXT = 'client money goes to the firm only in payment of issued bills, to the cent';
    END IF;
    IF on_bills <> 0 AND EXISTS (
        SELECT 1 FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id
          JOIN journal_line l ON l.journal_id = e.journal_id AND l.bill_id IS NOT NULL JOIN account a ON a.id = l.account_id AND a.role = 'receivable'
          JOIN bill b ON b.id = l.bill_id LEFT JOIN contact p ON p.id = b.payer_id LEFT JOIN contact o ON o.id = c.client_id
         WHERE e.journal_id = NEW.journal_id AND c.kind <> 'firm'
           AND (c.client_id IS NULL OR COALESCE(p.merged_into, p.id) <> COALESCE(o.merged_into, o.id) OR (c.matter_id IS NOT NULL AND c.matter_id <> b.matter_id))) THEN
      SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3107, MESSAGE_TEXT = 'a bill is paid from the ledger of its own payer, for its own matter';
    END IF;
  END IF;
  IF EXISTS (
      SELECT 1 FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id
       WHERE e.journal_id = NEW.journal_id AND e.amount < 0 AND c.kind = 'unidentified') THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3108, MESSAGE_TEXT = 'money whose owner is not known cannot be spent';
  END IF;
  IF EXISTS (
      SELECT 1 FROM ledger_entry e WHERE e.journal_id = NEW.journal_id AND e.amount < 0
         AND NOT EXISTS (SELECT 1 FROM clearing_override o WHERE o.journal_id = e.journal_id AND o.ledger_id = e.ledger_id)
         AND COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = e.ledger_id AND d.day <= e.day ORDER BY d.day DESC LIMIT 1), 0)
           < COALESCE((SELECT SUM(x.amount) FROM ledger_entry x WHERE x.ledger_id = e.ledger_id AND x.clears_on > e.day AND x.amount > 0 AND x.day <= e.day), 0)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3109, MESSAGE_TEXT = 'money that has not cleared is spent only on the word of someone authorized';
  END IF;
END
