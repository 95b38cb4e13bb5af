-- Wrong passwords, counted by account, by machine, and by account on a machine. A try is counted before it is judged.
CREATE TABLE IF NOT EXISTS sign_in_guard (
  name VARCHAR(270) NOT NULL PRIMARY KEY,
  tries INT UNSIGNED NOT NULL,
  last_at DATETIME(6) NOT NULL,
  free_at DATETIME(6) NOT NULL,
  INDEX (last_at)
)
-- next
-- Machines from which someone has signed in rightly: there they are not held up by what others try.
CREATE TABLE IF NOT EXISTS sign_in_known (
  user_id INT UNSIGNED NOT NULL,
  address VARCHAR(64) NOT NULL,
  last_at DATETIME(6) NOT NULL,
  PRIMARY KEY (user_id, address),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
DROP TABLE IF EXISTS sign_in_attempt
-- next
-- Amounts within what one entry may hold, so that no sum of them runs out of what programs can count.
ALTER TABLE journal_line ADD CONSTRAINT IF NOT EXISTS journal_line_sensible CHECK (amount BETWEEN -10000000000000 AND 10000000000000)
-- next
ALTER TABLE bank_entry ADD CONSTRAINT IF NOT EXISTS bank_entry_sensible CHECK (amount BETWEEN -10000000000000 AND 10000000000000)
-- next
ALTER TABLE ledger_entry ADD CONSTRAINT IF NOT EXISTS ledger_entry_sensible CHECK (amount BETWEEN -10000000000000 AND 10000000000000)
-- next
ALTER TABLE time_entry ADD CONSTRAINT IF NOT EXISTS time_entry_sensible CHECK (rate BETWEEN 0 AND 1000000 AND amount BETWEEN 0 AND 100000000000)
-- next
ALTER TABLE cost_entry ADD CONSTRAINT IF NOT EXISTS cost_entry_sensible CHECK (amount BETWEEN 0 AND 100000000000)
-- next
ALTER TABLE deposit_receipt ADD CONSTRAINT IF NOT EXISTS deposit_receipt_sensible CHECK (amount BETWEEN 1 AND 100000000000)
-- next
ALTER TABLE payment_out ADD CONSTRAINT IF NOT EXISTS payment_out_sensible CHECK (amount BETWEEN 1 AND 100000000000)
-- next
ALTER TABLE payment ADD CONSTRAINT IF NOT EXISTS payment_sensible CHECK (amount BETWEEN 1 AND 10000000000000)
-- next
ALTER TABLE fee_portion ADD CONSTRAINT IF NOT EXISTS fee_portion_sensible CHECK (amount BETWEEN 0 AND 100000000000)
