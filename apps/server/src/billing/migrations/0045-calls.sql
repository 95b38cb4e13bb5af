-- Money asked for before it is earned, into trust: from whom, how much, by when.
CREATE TABLE IF NOT EXISTS account_call (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  client_id INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  due_on DATE NULL,
  message VARCHAR(1000) NOT NULL DEFAULT '',
  -- Where this much or less is available, it is asked for again; and how often it is reminded of.
  minimum BIGINT NULL CHECK (minimum > 0),
  every_days SMALLINT UNSIGNED NULL,
  sent_on DATE NULL,
  seen_on DATE NULL,
  reminded_on DATE NULL,
  withdrawn_on DATE NULL,
  after_id INT UNSIGNED NULL UNIQUE,
  version INT UNSIGNED NOT NULL DEFAULT 0,
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  INDEX (client_id),
  INDEX (matter_id),
  INDEX (sent_on, withdrawn_on),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (client_id) REFERENCES contact (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (after_id) REFERENCES account_call (id),
  FOREIGN KEY (made_by) REFERENCES user_account (id)
)
-- next
-- Receipts that came for a call; each counts for one.
CREATE TABLE IF NOT EXISTS account_call_receipt (
  receipt_id INT UNSIGNED NOT NULL PRIMARY KEY,
  call_id INT UNSIGNED NOT NULL,
  INDEX (call_id),
  FOREIGN KEY (receipt_id) REFERENCES deposit_receipt (id),
  FOREIGN KEY (call_id) REFERENCES account_call (id)
)
-- next
ALTER TABLE pay_link MODIFY COLUMN bill_id INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS call_id INT UNSIGNED NULL,
  ADD INDEX IF NOT EXISTS pay_link_call (call_id), ADD FOREIGN KEY IF NOT EXISTS pay_link_for_call (call_id) REFERENCES account_call (id),
  ADD CONSTRAINT IF NOT EXISTS pay_link_of_one CHECK ((bill_id IS NULL) <> (call_id IS NULL))
-- next
ALTER TABLE card_charge MODIFY COLUMN bill_id INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS call_id INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS receipt_id INT UNSIGNED NULL,
  ADD INDEX IF NOT EXISTS card_charge_call (call_id), ADD FOREIGN KEY IF NOT EXISTS card_charge_for_call (call_id) REFERENCES account_call (id),
  ADD CONSTRAINT IF NOT EXISTS card_charge_of_one CHECK ((bill_id IS NULL) <> (call_id IS NULL))
-- next
ALTER TABLE deposit_receipt MODIFY COLUMN kind ENUM('check','cashier''s check','cash','wire','card','bank debit') NOT NULL
-- next
INSERT IGNORE INTO clearing_days (kind, court_days) SELECT 'bank debit', 5 FROM firm
