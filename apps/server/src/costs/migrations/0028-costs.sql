-- Kinds of costs as the firm charges them: by a unit at a rate, or by the amount.
CREATE TABLE IF NOT EXISTS cost_kind (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  code VARCHAR(12) NOT NULL UNIQUE,
  name VARCHAR(80) NOT NULL,
  hard BOOLEAN NOT NULL,
  unit VARCHAR(20) NOT NULL DEFAULT '',
  -- Hundredths of a cent.
  unit_rate BIGINT NULL CHECK (unit_rate BETWEEN 1 AND 100000000),
  markup_basis_points SMALLINT UNSIGNED NOT NULL DEFAULT 0 CHECK (markup_basis_points <= 10000),
  taxable BOOLEAN NOT NULL DEFAULT FALSE,
  billable BOOLEAN NOT NULL DEFAULT TRUE,
  expense_code VARCHAR(12) NOT NULL DEFAULT '',
  retired BOOLEAN NOT NULL DEFAULT FALSE
)
-- next
INSERT IGNORE INTO cost_kind (code, name, hard, unit, unit_rate, taxable, expense_code) VALUES
  ('COPY', 'Copies', FALSE, 'page', 2500, TRUE, 'E101'), ('COLOR', 'Copies in color', FALSE, 'page', 7500, TRUE, 'E101'),
  ('MILES', 'Mileage', FALSE, 'mile', 7000, TRUE, 'E109'), ('POST', 'Postage', FALSE, '', NULL, TRUE, 'E108'),
  ('COURT', 'Court fees', TRUE, '', NULL, FALSE, 'E112'), ('SERVE', 'Service of process', TRUE, '', NULL, FALSE, 'E113'),
  ('COURIER', 'Courier', TRUE, '', NULL, FALSE, 'E107'), ('DEPO', 'Deposition transcripts', TRUE, '', NULL, FALSE, 'E115'),
  ('EXPERT', 'Experts', TRUE, '', NULL, FALSE, 'E119'), ('RESEARCH', 'Online research', TRUE, '', NULL, FALSE, 'E106'),
  ('TRAVEL', 'Travel', TRUE, '', NULL, FALSE, 'E110'), ('OTHER', 'Other', TRUE, '', NULL, FALSE, 'E124')
-- next
CREATE TABLE IF NOT EXISTS recurring_cost (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  kind_id INT UNSIGNED NOT NULL,
  text VARCHAR(300) NOT NULL,
  units BIGINT NULL,
  amount BIGINT NULL,
  payee VARCHAR(160) NOT NULL DEFAULT '',
  paid_from ENUM('operating','owed') NOT NULL,
  day_of_month TINYINT UNSIGNED NOT NULL CHECK (day_of_month BETWEEN 1 AND 31),
  next_on DATE NULL,
  until DATE NULL,
  fault VARCHAR(300) NOT NULL DEFAULT '',
  made_by INT UNSIGNED NOT NULL,
  INDEX (next_on),
  INDEX (matter_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (kind_id) REFERENCES cost_kind (id)
)
-- next
ALTER TABLE cost_entry
  ADD COLUMN IF NOT EXISTS kind_id INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS units BIGINT NULL,
  ADD COLUMN IF NOT EXISTS unit_rate BIGINT NULL,
  ADD COLUMN IF NOT EXISTS paid BIGINT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS billable BOOLEAN NOT NULL DEFAULT TRUE,
  ADD COLUMN IF NOT EXISTS taxable BOOLEAN NULL,
  ADD COLUMN IF NOT EXISTS paid_from ENUM('operating','trust','owed') NULL,
  ADD COLUMN IF NOT EXISTS state ENUM('recorded','reversed') NOT NULL DEFAULT 'recorded',
  ADD COLUMN IF NOT EXISTS receipt_id INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS payment_out_id INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS settled_on DATE NULL,
  ADD COLUMN IF NOT EXISTS recurring_id INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS open_amount BIGINT AS (IF(bill_id IS NULL AND state = 'recorded' AND billable AND COALESCE(paid_from, '') <> 'trust', amount, 0)) PERSISTENT,
  ADD INDEX IF NOT EXISTS cost_by_day (day, id),
  ADD INDEX IF NOT EXISTS cost_owed (paid_from, settled_on),
  ADD INDEX IF NOT EXISTS cost_receipt (receipt_id),
  ADD UNIQUE INDEX IF NOT EXISTS cost_recurs (recurring_id, day)
-- next
UPDATE cost_entry SET paid = amount, paid_from = IF(kind = 'hard cost', 'operating', NULL) WHERE paid = 0
-- next
-- Of a cost on a bill: what of it was advanced by the firm, whether it is taxed, and whether it stands there for information alone.
ALTER TABLE pre_bill_line
  ADD COLUMN IF NOT EXISTS advanced BIGINT NULL,
  ADD COLUMN IF NOT EXISTS taxable BOOLEAN NULL,
  ADD COLUMN IF NOT EXISTS told BOOLEAN NOT NULL DEFAULT FALSE
-- next
ALTER TABLE bill_line
  ADD COLUMN IF NOT EXISTS advanced BIGINT NULL,
  ADD COLUMN IF NOT EXISTS taxable BOOLEAN NULL,
  ADD COLUMN IF NOT EXISTS told BOOLEAN NOT NULL DEFAULT FALSE
-- next
INSERT IGNORE INTO account (code, name, kind, role) SELECT '2100', 'Accounts payable', 'liability', 'payables' FROM firm
-- next
ALTER TABLE import_run MODIFY COLUMN what ENUM('contacts','matters','costs') NOT NULL
-- next
CREATE OR REPLACE TRIGGER cost_entry_figure_made AFTER INSERT ON cost_entry FOR EACH ROW
  CALL add_to_matter_figure(NEW.matter_id, 0, NEW.open_amount, 0)
-- next
CREATE OR REPLACE TRIGGER cost_entry_figure_moved AFTER UPDATE ON cost_entry FOR EACH ROW
  IF NEW.matter_id = OLD.matter_id THEN
    CALL add_to_matter_figure(NEW.matter_id, 0, NEW.open_amount - OLD.open_amount, 0);
  ELSE
    CALL add_to_matter_figure(OLD.matter_id, 0, -OLD.open_amount, 0);
    CALL add_to_matter_figure(NEW.matter_id, 0, NEW.open_amount, 0);
  END IF
-- next
CREATE OR REPLACE TRIGGER cost_entry_figure_gone AFTER DELETE ON cost_entry FOR EACH ROW
  CALL add_to_matter_figure(OLD.matter_id, 0, -OLD.open_amount, 0)
