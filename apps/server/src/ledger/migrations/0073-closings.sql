-- A day and the balance at its close in one number, the day first: what each of many ledgers held at the close of any day is then the
-- greatest of its numbers up to that day, found by one dive into an index for each ledger and not by reading all days on which it moved.
-- Days count from 1900, and no ledger holds a trillion dollars.
ALTER TABLE ledger_day ADD COLUMN IF NOT EXISTS closing BIGINT UNSIGNED NOT NULL DEFAULT 0
-- next
UPDATE ledger_day SET closing = DATEDIFF(day, '1899-12-31') * 100000000000000 + balance
-- next
ALTER TABLE ledger_day ADD CONSTRAINT IF NOT EXISTS ledger_day_sensible CHECK (balance < 100000000000000)
-- next
ALTER TABLE ledger_day ADD CONSTRAINT IF NOT EXISTS ledger_day_closing CHECK (closing = DATEDIFF(day, '1899-12-31') * 100000000000000 + balance)
-- next
ALTER TABLE ledger_day ADD INDEX IF NOT EXISTS ledger_closing (ledger_id, closing)
-- next
CREATE OR REPLACE TRIGGER ledger_entry_carry AFTER INSERT ON ledger_entry FOR EACH ROW
BEGIN
  DECLARE before_it BIGINT DEFAULT COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = NEW.ledger_id AND d.day < NEW.day ORDER BY d.day DESC LIMIT 1), 0);
  INSERT INTO ledger_day (ledger_id, day, balance, closing)
    VALUES (NEW.ledger_id, NEW.day, before_it, DATEDIFF(NEW.day, '1899-12-31') * 100000000000000 + before_it)
    ON DUPLICATE KEY UPDATE balance = ledger_day.balance;
  UPDATE ledger_day SET balance = balance + NEW.amount, closing = closing + NEW.amount WHERE ledger_id = NEW.ledger_id AND day >= NEW.day;
END
