-- Moves of trust money, corrections by two people, what the bank did, and interest.
ALTER TABLE client_ledger MODIFY COLUMN kind ENUM('client','firm','unidentified','foundation') NOT NULL
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS flat_fee_in_advance ENUM('trust','income') NOT NULL DEFAULT 'trust'
-- next
ALTER TABLE payment_out ADD COLUMN IF NOT EXISTS approved_by INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS approved_at DATETIME(6) NULL
-- next
-- A separate account is one client's: whoever's money first comes there, unless chosen before.
ALTER TABLE bank_account ADD COLUMN IF NOT EXISTS client_id INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS matures_on DATE NULL,
  ADD COLUMN IF NOT EXISTS stale_days SMALLINT UNSIGNED NOT NULL DEFAULT 180,
  ADD COLUMN IF NOT EXISTS unclaimed_days SMALLINT UNSIGNED NOT NULL DEFAULT 1095,
  ADD COLUMN IF NOT EXISTS two_people BOOLEAN NOT NULL DEFAULT FALSE,
  ADD FOREIGN KEY IF NOT EXISTS bank_account_client (client_id) REFERENCES contact (id)
-- next
UPDATE bank_account b SET b.client_id = (SELECT MIN(l.client_id) FROM client_ledger l WHERE l.bank_account_id = b.id AND l.kind = 'client')
 WHERE b.kind = 'separate' AND b.client_id IS NULL AND (SELECT COUNT(DISTINCT l.client_id) FROM client_ledger l WHERE l.bank_account_id = b.id AND l.kind = 'client') = 1
-- next
CREATE OR REPLACE TRIGGER client_ledger_owner BEFORE INSERT ON client_ledger FOR EACH ROW
BEGIN
  DECLARE kind_of VARCHAR(20);
  DECLARE owner_of INT UNSIGNED;
  SELECT b.kind, COALESCE(c.merged_into, b.client_id) INTO kind_of, owner_of FROM bank_account b LEFT JOIN contact c ON c.id = b.client_id WHERE b.id = NEW.bank_account_id FOR UPDATE;
  IF kind_of = 'separate' AND NEW.kind = 'client' THEN
    IF owner_of IS NULL THEN UPDATE bank_account SET client_id = NEW.client_id WHERE id = NEW.bank_account_id;
    ELSEIF owner_of <> NEW.client_id THEN
      SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3114, MESSAGE_TEXT = 'this separate account is another client''s';
    END IF;
  END IF;
  IF kind_of = 'separate' AND NEW.kind IN ('unidentified', 'foundation') THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3114, MESSAGE_TEXT = 'a separate account holds its client''s money alone';
  END IF;
END
-- next
ALTER TABLE ledger_hold ADD COLUMN IF NOT EXISTS kind VARCHAR(20) NOT NULL DEFAULT 'hold',
  ADD COLUMN IF NOT EXISTS laid_by INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS laid_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS released_by INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS release_reason VARCHAR(300) NOT NULL DEFAULT ''
-- next
-- Unidentified money that was credited to its owner, receipt by receipt.
CREATE TABLE IF NOT EXISTS receipt_owner (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  receipt_id INT UNSIGNED NOT NULL,
  ledger_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  reason VARCHAR(300) NOT NULL,
  journal_id BIGINT UNSIGNED NOT NULL UNIQUE,
  user_id INT UNSIGNED NOT NULL,
  UNIQUE (receipt_id),
  FOREIGN KEY (receipt_id) REFERENCES deposit_receipt (id),
  FOREIGN KEY (ledger_id) REFERENCES client_ledger (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
-- What stands on the wrong client's ledger is asked to be put right by one person, and posted by another.
CREATE TABLE IF NOT EXISTS trust_correction (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  entry_id BIGINT UNSIGNED NOT NULL,
  client_id INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  day DATE NOT NULL,
  reason VARCHAR(300) NOT NULL,
  state ENUM('asked','posted','refused') NOT NULL DEFAULT 'asked',
  asked_by INT UNSIGNED NOT NULL,
  asked_at DATETIME(6) NOT NULL,
  decided_by INT UNSIGNED NULL,
  decided_at DATETIME(6) NULL,
  decision VARCHAR(300) NOT NULL DEFAULT '',
  journal_id BIGINT UNSIGNED NULL UNIQUE,
  INDEX (state),
  INDEX (entry_id),
  CHECK ((state = 'posted') = (journal_id IS NOT NULL)),
  CONSTRAINT correction_by_two CHECK (state <> 'posted' OR (decided_by IS NOT NULL AND decided_by <> asked_by)),
  FOREIGN KEY (entry_id) REFERENCES ledger_entry (id),
  FOREIGN KEY (client_id) REFERENCES contact (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
CREATE OR REPLACE TRIGGER trust_correction_keeps BEFORE UPDATE ON trust_correction FOR EACH ROW
  IF OLD.state <> 'asked' OR NEW.entry_id <> OLD.entry_id OR NEW.amount <> OLD.amount OR NEW.asked_by <> OLD.asked_by OR NOT (NEW.matter_id <=> OLD.matter_id) THEN
    IF NOT (OLD.state = NEW.state AND NEW.client_id <> OLD.client_id AND NEW.amount = OLD.amount AND NEW.journal_id <=> OLD.journal_id) THEN
      SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'trust_correction: what is decided is never changed';
    END IF;
  END IF
-- next
CREATE OR REPLACE TRIGGER trust_correction_no_delete BEFORE DELETE ON trust_correction FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'trust_correction: what is decided is never changed'
-- next
-- What the bank did by itself: a deposit that it took back, a charge; with the firm's cover of what the ledger then lacked.
CREATE TABLE IF NOT EXISTS bank_did (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  what ENUM('returned','charge') NOT NULL,
  bank_account_id INT UNSIGNED NOT NULL,
  ledger_id INT UNSIGNED NOT NULL,
  receipt_id INT UNSIGNED NULL UNIQUE,
  journal_id BIGINT UNSIGNED NOT NULL UNIQUE,
  day DATE NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  cover BIGINT NOT NULL DEFAULT 0,
  operating_id INT UNSIGNED NULL,
  text VARCHAR(200) NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  CHECK (cover >= 0 AND cover <= amount),
  CHECK ((what = 'returned') = (receipt_id IS NOT NULL)),
  INDEX (bank_account_id, day),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (ledger_id) REFERENCES client_ledger (id),
  FOREIGN KEY (receipt_id) REFERENCES deposit_receipt (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id),
  FOREIGN KEY (operating_id) REFERENCES bank_account (id)
)
-- next
-- A cover is in transit until it lands in trust.
CREATE TABLE IF NOT EXISTS cover_landed (
  did_id INT UNSIGNED NOT NULL PRIMARY KEY,
  day DATE NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  FOREIGN KEY (did_id) REFERENCES bank_did (id)
)
-- next
CREATE TABLE IF NOT EXISTS cover_repaid (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  did_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  journal_id BIGINT UNSIGNED NOT NULL UNIQUE,
  INDEX (did_id),
  FOREIGN KEY (did_id) REFERENCES bank_did (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
CREATE TABLE IF NOT EXISTS trust_interest (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  ledger_id INT UNSIGNED NOT NULL,
  journal_id BIGINT UNSIGNED NOT NULL UNIQUE,
  day DATE NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  INDEX (day),
  FOREIGN KEY (ledger_id) REFERENCES client_ledger (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
INSERT IGNORE INTO account (code, name, kind, role)
  SELECT IF(EXISTS (SELECT 1 FROM account x WHERE x.code = '1320'), '1320C', '1320'), 'Due from clients for what the firm covered', 'asset', 'due from clients' FROM firm
   WHERE NOT EXISTS (SELECT 1 FROM account y WHERE y.role = 'due from clients')
-- next
-- Where an account asks for two people, nothing leaves it by a payment that one person drafted and posted alone.
CREATE OR REPLACE TRIGGER payment_out_two BEFORE UPDATE ON payment_out FOR EACH ROW FOLLOWS payment_out_keeps
  IF OLD.state = 'draft' AND NEW.state = 'posted' AND (NEW.approved_by IS NULL OR NEW.approved_by = NEW.created_by)
     AND EXISTS (SELECT 1 FROM client_ledger l JOIN bank_account b ON b.id = l.bank_account_id AND b.two_people WHERE l.id = NEW.ledger_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3115, MESSAGE_TEXT = 'payment_out: this account asks for two people';
  END IF
-- next
-- Nothing moves a ledger in a month of its account that is closed, also where no bank moves.
CREATE OR REPLACE TRIGGER ledger_entry_month BEFORE INSERT ON ledger_entry FOR EACH ROW FOLLOWS ledger_entry_before_posting
BEGIN
  DECLARE n INT;
  DECLARE bank INT UNSIGNED;
  SELECT bank_account_id INTO bank FROM client_ledger WHERE id = NEW.ledger_id;
  SELECT id INTO n FROM bank_account WHERE id = bank LOCK IN SHARE MODE;
  SELECT COUNT(*) INTO n FROM reconciliation WHERE bank_account_id = bank AND to_day >= NEW.day LOCK IN SHARE MODE;
  IF n > 0 THEN SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3112, MESSAGE_TEXT = 'This month of the account is reconciled and closed'; END IF;
END
-- next
CREATE OR REPLACE TRIGGER journal_posting_trust BEFORE INSERT ON journal_posting FOR EACH ROW FOLLOWS journal_posting_balances
BEGIN
  DECLARE from_clients BIGINT DEFAULT 0;
  DECLARE to_firm BIGINT DEFAULT 0;
  DECLARE on_bills BIGINT DEFAULT 0;
  DECLARE by_bank BOOLEAN DEFAULT FALSE;
  SELECT COALESCE(SUM(e.amount), 0) INTO from_clients FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE e.journal_id = NEW.journal_id AND c.kind <> 'firm';
  -- A deposit that the bank took back is not refused: what stands in its own record, to the cent, and the firm's cover of it.
  SELECT EXISTS (SELECT 1 FROM bank_did d WHERE d.journal_id = NEW.journal_id
      AND d.amount - d.cover = -(SELECT SUM(e.amount) FROM ledger_entry e WHERE e.journal_id = NEW.journal_id)
      AND NOT EXISTS (SELECT 1 FROM ledger_entry e WHERE e.journal_id = NEW.journal_id AND e.ledger_id <> d.ledger_id)
      AND d.cover = -COALESCE((SELECT SUM(e.amount) FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.journal_id = NEW.journal_id AND b.kind = 'operating'), 0)) INTO by_bank;
  IF from_clients <> 0 AND NOT by_bank THEN
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
  -- What has no owner goes to the owner that was found, as its record says, or back to whoever reverses the deposit; it is not spent.
  IF EXISTS (
      SELECT 1 FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id
       WHERE e.journal_id = NEW.journal_id AND e.amount < 0 AND c.kind = 'unidentified'
         AND NOT by_bank
         AND NOT EXISTS (SELECT 1 FROM receipt_owner o JOIN ledger_entry t ON t.journal_id = o.journal_id AND t.ledger_id = o.ledger_id AND t.amount = o.amount JOIN client_ledger k ON k.id = o.ledger_id AND k.kind = 'client'
              WHERE o.journal_id = NEW.journal_id AND e.amount = -o.amount AND NOT EXISTS (SELECT 1 FROM bank_entry x WHERE x.journal_id = NEW.journal_id))
         AND NOT EXISTS (SELECT 1 FROM journal j JOIN deposit_sheet s ON s.id = j.subject_id AND s.state = 'posted' JOIN ledger_entry t ON t.journal_id = s.journal_id AND t.ledger_id = e.ledger_id AND t.amount = -e.amount
              WHERE j.id = NEW.journal_id AND j.kind = 'sheet reversed' AND NOT EXISTS (SELECT 1 FROM journal_reversal v WHERE v.journal_id = s.journal_id))) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3108, MESSAGE_TEXT = 'money whose owner is not known cannot be spent';
  END IF;
  -- One client's money becomes another's only by a correction that two people made.
  IF EXISTS (
      SELECT 1 FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id AND c.kind = 'client' JOIN contact o ON o.id = c.client_id
        JOIN ledger_entry t ON t.journal_id = e.journal_id AND t.amount > 0 JOIN client_ledger k ON k.id = t.ledger_id LEFT JOIN contact p ON p.id = k.client_id
       WHERE e.journal_id = NEW.journal_id AND e.amount < 0 AND NOT COALESCE(o.merged_into, o.id) <=> COALESCE(p.merged_into, p.id))
     AND NOT EXISTS (SELECT 1 FROM trust_correction x WHERE x.journal_id = NEW.journal_id AND x.state = 'posted') THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3113, MESSAGE_TEXT = 'one client''s money is not another''s';
  END IF;
  IF NOT by_bank AND EXISTS (
      SELECT 1 FROM ledger_entry e WHERE e.journal_id = NEW.journal_id AND e.amount < 0
         AND NOT EXISTS (SELECT 1 FROM clearing_override o WHERE o.journal_id = e.journal_id AND o.ledger_id = e.ledger_id)
         AND COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = e.ledger_id AND d.day <= e.day ORDER BY d.day DESC LIMIT 1), 0)
           < COALESCE((SELECT SUM(x.amount) FROM ledger_entry x WHERE x.ledger_id = e.ledger_id AND x.clears_on > e.day AND x.day <= e.day), 0)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3109, MESSAGE_TEXT = 'money that has not cleared is spent only on the word of someone authorized';
  END IF;
END
-- next
CREATE OR REPLACE TRIGGER receipt_owner_no_update BEFORE UPDATE ON receipt_owner FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'receipt_owner: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER receipt_owner_no_delete BEFORE DELETE ON receipt_owner FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'receipt_owner: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER bank_did_no_update BEFORE UPDATE ON bank_did FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bank_did: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER bank_did_no_delete BEFORE DELETE ON bank_did FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bank_did: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER cover_landed_no_update BEFORE UPDATE ON cover_landed FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'cover_landed: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER cover_landed_no_delete BEFORE DELETE ON cover_landed FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'cover_landed: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER cover_repaid_no_update BEFORE UPDATE ON cover_repaid FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'cover_repaid: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER cover_repaid_no_delete BEFORE DELETE ON cover_repaid FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'cover_repaid: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER trust_interest_no_update BEFORE UPDATE ON trust_interest FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'trust_interest: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER trust_interest_no_delete BEFORE DELETE ON trust_interest FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'trust_interest: what is posted is never changed; reverse or correct it'
