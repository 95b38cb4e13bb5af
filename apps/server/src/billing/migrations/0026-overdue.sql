-- What an engagement says of its bills: of the matter, else of the client; when they are due, and whether interest runs on overdue ones.
CREATE TABLE IF NOT EXISTS bill_terms (
  owner ENUM('matter','client') NOT NULL,
  owner_id INT UNSIGNED NOT NULL,
  due_days SMALLINT UNSIGNED NULL,
  interest_basis_points SMALLINT UNSIGNED NULL,
  grace_days SMALLINT UNSIGNED NULL,
  PRIMARY KEY (owner, owner_id)
)
-- next
-- A charge of interest is a numbered bill of its own; this says on which bill, and up to when.
CREATE TABLE IF NOT EXISTS bill_interest (
  bill_id INT UNSIGNED NOT NULL PRIMARY KEY,
  of_bill_id INT UNSIGNED NOT NULL,
  accrued_to DATE NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  INDEX (of_bill_id),
  FOREIGN KEY (bill_id) REFERENCES bill (id),
  FOREIGN KEY (of_bill_id) REFERENCES bill (id)
)
-- next
-- A bill that its payer disputes: no reminders and no interest until the mark is taken off.
CREATE TABLE IF NOT EXISTS bill_dispute (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bill_id INT UNSIGNED NOT NULL,
  since DATE NOT NULL,
  reason VARCHAR(300) NOT NULL,
  by_id INT UNSIGNED NOT NULL,
  ended_on DATE NULL,
  open_bill INT UNSIGNED GENERATED ALWAYS AS (IF(ended_on IS NULL, bill_id, NULL)) STORED UNIQUE,
  INDEX (bill_id),
  FOREIGN KEY (bill_id) REFERENCES bill (id),
  FOREIGN KEY (by_id) REFERENCES user_account (id)
)
-- next
-- Days after the due day on which each reminder may go out.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS reminder_days VARCHAR(20) NOT NULL DEFAULT '7,21,45'
-- next
INSERT IGNORE INTO account (code, name, kind, role) SELECT '4050', 'Interest on overdue bills', 'income', 'interest' FROM firm
-- next
ALTER TABLE bill ADD INDEX IF NOT EXISTS bill_due (due_on, id)
