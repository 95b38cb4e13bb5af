-- What the database itself holds of the rules on trust money, whoever writes to it.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS two_people_for_bills BOOLEAN NOT NULL DEFAULT FALSE
-- next
INSERT IGNORE INTO account (code, name, kind, role) SELECT '5800', 'Client costs not recovered', 'expense', 'costs not recovered' FROM firm
-- next
-- What has not cleared by a day is looked for across ledgers.
CREATE INDEX IF NOT EXISTS ledger_entry_clears ON ledger_entry (clears_on, ledger_id)
-- next
CREATE INDEX IF NOT EXISTS ledger_entry_uncleared ON ledger_entry (ledger_id, clears_on)
-- next
-- Money that has not cleared was spent on someone's word: who, why, and in which journal. Written before the journal is posted.
CREATE TABLE IF NOT EXISTS clearing_override (
  journal_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  ledger_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  reason VARCHAR(300) NOT NULL CHECK (reason <> ''),
  FOREIGN KEY (journal_id) REFERENCES journal (id),
  FOREIGN KEY (ledger_id) REFERENCES client_ledger (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
CREATE OR REPLACE TRIGGER clearing_override_no_update BEFORE UPDATE ON clearing_override FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'clearing_override: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER clearing_override_no_delete BEFORE DELETE ON clearing_override FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'clearing_override: what is posted is never changed; reverse or correct it'
-- next
-- A payment out is a draft until it is posted; then only its voiding is noted. Nothing of it is deleted.
CREATE OR REPLACE TRIGGER payment_out_keeps BEFORE UPDATE ON payment_out FOR EACH ROW
BEGIN
  IF OLD.state <> 'draft' AND NOT (
      OLD.state = 'posted' AND NEW.state = 'void' AND NEW.ledger_id = OLD.ledger_id AND NEW.method = OLD.method AND NEW.check_no <=> OLD.check_no
      AND NEW.day = OLD.day AND NEW.payee_name = OLD.payee_name AND NEW.payee_address = OLD.payee_address AND NEW.amount = OLD.amount
      AND NEW.memo = OLD.memo AND NEW.override_reason = OLD.override_reason AND NEW.journal_id <=> OLD.journal_id
      AND EXISTS (SELECT 1 FROM journal_reversal r WHERE r.journal_id = OLD.journal_id)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'payment_out: what is posted is never changed; reverse or correct it';
  END IF;
  IF OLD.state = 'draft' AND NEW.state = 'posted' AND NOT EXISTS (
      SELECT 1 FROM ledger_entry e JOIN journal_posting p ON p.journal_id = e.journal_id
       WHERE e.journal_id = NEW.journal_id AND e.ledger_id = NEW.ledger_id AND e.amount = -NEW.amount AND e.day = NEW.day) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3105, MESSAGE_TEXT = 'payment_out: posted without a journal of its amount';
  END IF;
  IF OLD.state = 'draft' AND NEW.state NOT IN ('draft', 'posted', 'dropped') THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3105, MESSAGE_TEXT = 'payment_out: a draft is posted or dropped';
  END IF;
END
-- next
CREATE OR REPLACE TRIGGER payment_out_begins BEFORE INSERT ON payment_out FOR EACH ROW
  IF NEW.state <> 'draft' OR NEW.journal_id IS NOT NULL THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3105, MESSAGE_TEXT = 'payment_out: begins as a draft';
  END IF
-- next
CREATE OR REPLACE TRIGGER payment_out_no_delete BEFORE DELETE ON payment_out FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'payment_out: what is posted is never changed; reverse or correct it'
-- next
-- A posted sheet is what the bank was given.
CREATE OR REPLACE TRIGGER deposit_sheet_keeps BEFORE UPDATE ON deposit_sheet FOR EACH ROW
  IF OLD.state = 'posted' THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'deposit_sheet: what is posted is never changed; reverse or correct it';
  END IF
-- next
CREATE OR REPLACE TRIGGER deposit_receipt_keeps BEFORE UPDATE ON deposit_receipt FOR EACH ROW
  -- Only the merging of two contacts gives a posted receipt another client.
  IF EXISTS (SELECT 1 FROM deposit_sheet s WHERE s.id = OLD.sheet_id AND s.state = 'posted') AND NOT (
      NEW.sheet_id = OLD.sheet_id AND NEW.ordinal = OLD.ordinal AND NEW.receipt_no = OLD.receipt_no AND NEW.matter_id <=> OLD.matter_id
      AND NEW.depositor = OLD.depositor AND NEW.kind = OLD.kind AND NEW.reference = OLD.reference AND NEW.text = OLD.text AND NEW.amount = OLD.amount) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'deposit_receipt: what is posted is never changed; reverse or correct it';
  END IF
-- next
CREATE OR REPLACE TRIGGER deposit_receipt_no_delete BEFORE DELETE ON deposit_receipt FOR EACH ROW
  IF EXISTS (SELECT 1 FROM deposit_sheet s WHERE s.id = OLD.sheet_id AND s.state = 'posted') THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'deposit_receipt: what is posted is never changed; reverse or correct it';
  END IF
-- next
-- The journal as a whole, at the moment it is posted: bills are paid by their own payer's money for their own matter; client
-- money that lands in the firm's bank pays bills to the same amount; and what has not cleared is spent only on someone's word.
CREATE OR REPLACE TRIGGER journal_posting_trust BEFORE INSERT ON journal_posting FOR EACH ROW FOLLOWS journal_posting_balances
BEGIN
  DECLARE from_clients BIGINT DEFAULT 0;
  DECLARE to_firm BIGINT DEFAULT 0;
  DECLARE on_bills BIGINT DEFAULT 0;
  SELECT COALESCE(SUM(e.amount), 0) INTO from_clients FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE e.journal_id = NEW.journal_id AND c.kind <> 'firm';
  IF from_clients <> 0 THEN
    SELECT COALESCE(SUM(e.amount), 0) INTO to_firm FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.journal_id = NEW.journal_id AND b.kind = 'operating';
    SELECT COALESCE(SUM(l.amount), 0) INTO on_bills FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.journal_id = NEW.journal_id AND a.role = 'receivable' AND l.bill_id IS NOT NULL;
    IF (to_firm <> 0 OR on_bills <> 0) AND (to_firm <> -from_clients OR on_bills <> from_clients) THEN
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
-- next
CREATE OR REPLACE TRIGGER rule_set_edition_no_update BEFORE UPDATE ON rule_set_edition FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'rule_set_edition: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER rule_set_edition_no_delete BEFORE DELETE ON rule_set_edition FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'rule_set_edition: what is posted is never changed; reverse or correct it'
-- next
-- A merge by which trust money would change hands between different people waits for a second person.
CREATE TABLE IF NOT EXISTS merge_request (
  kept_id INT UNSIGNED NOT NULL,
  merged_id INT UNSIGNED NOT NULL,
  asked_by INT UNSIGNED NOT NULL,
  asked_at DATETIME(6) NOT NULL,
  PRIMARY KEY (kept_id, merged_id),
  FOREIGN KEY (kept_id) REFERENCES contact (id),
  FOREIGN KEY (merged_id) REFERENCES contact (id),
  FOREIGN KEY (asked_by) REFERENCES user_account (id)
)
-- next
CREATE INDEX IF NOT EXISTS idempotency_age ON idempotency (created_at)
