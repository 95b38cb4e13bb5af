CREATE TABLE IF NOT EXISTS vendor_recurring (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  vendor_id INT UNSIGNED NOT NULL,
  memo VARCHAR(200) NOT NULL,
  day_of_month TINYINT UNSIGNED NOT NULL CHECK (day_of_month BETWEEN 1 AND 31),
  every_months TINYINT UNSIGNED NOT NULL CHECK (every_months BETWEEN 1 AND 12),
  due_days SMALLINT UNSIGNED NOT NULL,
  line_list LONGTEXT NOT NULL,
  amount BIGINT NOT NULL,
  next_on DATE NULL,
  until DATE NULL,
  fault VARCHAR(300) NOT NULL DEFAULT '',
  made_by INT UNSIGNED NOT NULL,
  INDEX (next_on),
  FOREIGN KEY (vendor_id) REFERENCES contact (id)
)
-- next
CREATE TABLE IF NOT EXISTS vendor_bill (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  vendor_id INT UNSIGNED NOT NULL,
  number VARCHAR(60) NOT NULL DEFAULT '',
  day DATE NOT NULL,
  due_on DATE NOT NULL,
  discount_on DATE NULL,
  discount BIGINT NOT NULL DEFAULT 0,
  memo VARCHAR(200) NOT NULL DEFAULT '',
  total BIGINT NOT NULL CHECK (total > 0),
  settled BIGINT NOT NULL DEFAULT 0,
  state ENUM('posted','void') NOT NULL DEFAULT 'posted',
  void_on DATE NULL,
  journal_id BIGINT UNSIGNED NULL UNIQUE,
  recurring_id INT UNSIGNED NULL,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  open_amount BIGINT AS (IF(state = 'posted', total - settled, 0)) PERSISTENT,
  -- A vendor's number stands once; what was void may come again.
  number_key VARCHAR(60) AS (IF(state = 'posted' AND number <> '', number, NULL)) PERSISTENT,
  CONSTRAINT vendor_bill_settled CHECK (settled BETWEEN 0 AND total),
  CONSTRAINT vendor_bill_discount CHECK (discount BETWEEN 0 AND total),
  UNIQUE INDEX vendor_bill_number (vendor_id, number_key),
  UNIQUE INDEX vendor_bill_recurs (recurring_id, day),
  INDEX vendor_bill_open (open_amount, due_on),
  INDEX vendor_bill_due (due_on, id),
  FOREIGN KEY (vendor_id) REFERENCES contact (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
)
-- next
CREATE TABLE IF NOT EXISTS vendor_bill_line (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bill_id INT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NULL,
  cost_id INT UNSIGNED NULL,
  text VARCHAR(300) NOT NULL DEFAULT '',
  amount BIGINT NOT NULL CHECK (amount > 0),
  INDEX (bill_id),
  INDEX (cost_id),
  FOREIGN KEY (bill_id) REFERENCES vendor_bill (id),
  FOREIGN KEY (account_id) REFERENCES account (id)
)
-- next
-- What a payment settles of a bill, with the discount that the vendor lets off for it.
CREATE TABLE IF NOT EXISTS vendor_part (
  payment_id INT UNSIGNED NOT NULL,
  bill_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  discount BIGINT NOT NULL DEFAULT 0 CHECK (discount >= 0),
  PRIMARY KEY (payment_id, bill_id),
  INDEX (bill_id),
  FOREIGN KEY (payment_id) REFERENCES firm_payment (id),
  FOREIGN KEY (bill_id) REFERENCES vendor_bill (id)
)
-- next
CREATE TABLE IF NOT EXISTS vendor_line_part (
  payment_id INT UNSIGNED NOT NULL,
  line_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL,
  PRIMARY KEY (payment_id, line_id),
  INDEX (line_id),
  FOREIGN KEY (payment_id) REFERENCES firm_payment (id),
  FOREIGN KEY (line_id) REFERENCES vendor_bill_line (id)
)
-- next
ALTER TABLE cost_entry ADD COLUMN IF NOT EXISTS vendor_bill_id INT UNSIGNED NULL, ADD INDEX IF NOT EXISTS cost_of_vendor_bill (vendor_bill_id)
