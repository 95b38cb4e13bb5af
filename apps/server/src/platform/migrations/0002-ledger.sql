-- Accounts
CREATE TABLE IF NOT EXISTS account (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  code VARCHAR(10) NOT NULL UNIQUE,
  name VARCHAR(120) NOT NULL,
  kind ENUM('asset','liability','equity','income','expense') NOT NULL,
  role VARCHAR(30) NULL UNIQUE
);
CREATE TABLE IF NOT EXISTS bank_account (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  kind ENUM('pooled','separate','operating') NOT NULL,
  bank VARCHAR(120) NOT NULL,
  ending VARCHAR(4) NOT NULL,
  gl_account_id INT UNSIGNED NOT NULL UNIQUE,
  liability_account_id INT UNSIGNED NULL UNIQUE,
  next_check INT UNSIGNED NOT NULL DEFAULT 1001,
  CHECK ((kind = 'operating') = (liability_account_id IS NULL)),
  FOREIGN KEY (gl_account_id) REFERENCES account (id),
  FOREIGN KEY (liability_account_id) REFERENCES account (id)
);
CREATE TABLE IF NOT EXISTS client_ledger (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  kind ENUM('client','firm','unidentified') NOT NULL,
  client_id INT UNSIGNED NULL,
  matter_id INT UNSIGNED NULL,
  owner_key VARCHAR(40) NOT NULL,
  UNIQUE (bank_account_id, owner_key),
  INDEX (client_id),
  INDEX (matter_id),
  CHECK ((kind = 'client') = (client_id IS NOT NULL)),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (client_id) REFERENCES contact (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);

-- Journals. Nothing here is ever changed; see the triggers.
CREATE TABLE IF NOT EXISTS journal (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  day DATE NOT NULL,
  kind VARCHAR(40) NOT NULL,
  memo VARCHAR(300) NOT NULL,
  subject VARCHAR(30) NOT NULL DEFAULT '',
  subject_id BIGINT UNSIGNED NULL,
  user_id INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (day, id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS journal_line (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  journal_id BIGINT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL CHECK (amount <> 0),
  matter_id INT UNSIGNED NULL,
  timekeeper_id INT UNSIGNED NULL,
  bill_id INT UNSIGNED NULL,
  INDEX (journal_id),
  INDEX (account_id, journal_id),
  INDEX (matter_id, account_id),
  FOREIGN KEY (journal_id) REFERENCES journal (id),
  FOREIGN KEY (account_id) REFERENCES account (id)
);
CREATE TABLE IF NOT EXISTS bank_entry (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  journal_id BIGINT UNSIGNED NOT NULL,
  bank_account_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  amount BIGINT NOT NULL CHECK (amount <> 0),
  kind VARCHAR(20) NOT NULL,
  reference VARCHAR(60) NOT NULL DEFAULT '',
  text VARCHAR(200) NOT NULL,
  INDEX (bank_account_id, day, id),
  INDEX (journal_id),
  FOREIGN KEY (journal_id) REFERENCES journal (id),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
);
CREATE TABLE IF NOT EXISTS ledger_entry (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  journal_id BIGINT UNSIGNED NOT NULL,
  ledger_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  amount BIGINT NOT NULL CHECK (amount <> 0),
  clears_on DATE NULL,
  text VARCHAR(200) NOT NULL,
  INDEX (ledger_id, day, id),
  INDEX (journal_id),
  FOREIGN KEY (journal_id) REFERENCES journal (id),
  FOREIGN KEY (ledger_id) REFERENCES client_ledger (id)
);
-- Closing balance of each ledger on each day on which it moved; kept by a trigger on ledger_entry.
CREATE TABLE IF NOT EXISTS ledger_day (
  ledger_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  balance BIGINT NOT NULL,
  PRIMARY KEY (ledger_id, day),
  CONSTRAINT ledger_never_below_zero CHECK (balance >= 0),
  FOREIGN KEY (ledger_id) REFERENCES client_ledger (id)
);
CREATE TABLE IF NOT EXISTS journal_posting (
  journal_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  posted_at DATETIME(6) NOT NULL,
  FOREIGN KEY (journal_id) REFERENCES journal (id)
);
CREATE TABLE IF NOT EXISTS journal_reversal (
  journal_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  reversal_id BIGINT UNSIGNED NOT NULL UNIQUE,
  reason VARCHAR(300) NOT NULL,
  FOREIGN KEY (journal_id) REFERENCES journal (id),
  FOREIGN KEY (reversal_id) REFERENCES journal (id)
);

-- Receipts
CREATE TABLE IF NOT EXISTS deposit_sheet (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  number INT UNSIGNED NOT NULL UNIQUE,
  bank_account_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  control_total BIGINT NOT NULL CHECK (control_total > 0),
  state ENUM('draft','posted') NOT NULL DEFAULT 'draft',
  journal_id BIGINT UNSIGNED NULL UNIQUE,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (state),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
);
CREATE TABLE IF NOT EXISTS deposit_receipt (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sheet_id INT UNSIGNED NOT NULL,
  ordinal SMALLINT NOT NULL,
  receipt_no INT UNSIGNED NOT NULL UNIQUE,
  client_id INT UNSIGNED NULL,
  matter_id INT UNSIGNED NULL,
  depositor VARCHAR(160) NOT NULL,
  kind ENUM('check','cashier''s check','cash','wire','card') NOT NULL,
  reference VARCHAR(60) NOT NULL DEFAULT '',
  text VARCHAR(200) NOT NULL DEFAULT '',
  amount BIGINT NOT NULL CHECK (amount > 0),
  UNIQUE (sheet_id, ordinal),
  FOREIGN KEY (sheet_id) REFERENCES deposit_sheet (id),
  FOREIGN KEY (client_id) REFERENCES contact (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
CREATE TABLE IF NOT EXISTS clearing_days (kind VARCHAR(20) NOT NULL PRIMARY KEY, court_days TINYINT UNSIGNED NOT NULL);

-- Payments out of trust; drafts reserve money until they are posted or dropped.
CREATE TABLE IF NOT EXISTS payment_out (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  ledger_id INT UNSIGNED NOT NULL,
  method ENUM('check','wire','transfer') NOT NULL,
  check_no INT UNSIGNED NULL,
  day DATE NOT NULL,
  payee_name VARCHAR(160) NOT NULL,
  payee_address VARCHAR(400) NOT NULL DEFAULT '',
  amount BIGINT NOT NULL CHECK (amount > 0),
  memo VARCHAR(200) NOT NULL DEFAULT '',
  state ENUM('draft','posted','void','dropped') NOT NULL DEFAULT 'draft',
  override_reason VARCHAR(300) NOT NULL DEFAULT '',
  journal_id BIGINT UNSIGNED NULL UNIQUE,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (ledger_id, state),
  INDEX (state),
  FOREIGN KEY (ledger_id) REFERENCES client_ledger (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
);
CREATE TABLE IF NOT EXISTS check_number (
  bank_account_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  payment_id INT UNSIGNED NULL,
  used_at DATETIME(6) NOT NULL,
  PRIMARY KEY (bank_account_id, number),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (payment_id) REFERENCES payment_out (id)
);
CREATE TABLE IF NOT EXISTS ledger_hold (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  ledger_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  reason VARCHAR(300) NOT NULL,
  released_at DATETIME(6) NULL,
  INDEX (ledger_id),
  FOREIGN KEY (ledger_id) REFERENCES client_ledger (id)
);

-- Payments of bills and what they were applied to
CREATE TABLE IF NOT EXISTS payment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind ENUM('trust','check','card','transfer') NOT NULL,
  payer_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  reference VARCHAR(60) NOT NULL DEFAULT '',
  ledger_id INT UNSIGNED NULL,
  journal_id BIGINT UNSIGNED NOT NULL UNIQUE,
  created_at DATETIME(6) NOT NULL,
  INDEX (payer_id),
  FOREIGN KEY (payer_id) REFERENCES contact (id),
  FOREIGN KEY (journal_id) REFERENCES journal (id)
);
CREATE TABLE IF NOT EXISTS allocation (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  payment_id INT UNSIGNED NOT NULL,
  bill_id INT UNSIGNED NOT NULL,
  bill_line_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL CHECK (amount <> 0),
  applied_on DATE NOT NULL,
  INDEX (bill_line_id),
  INDEX (bill_id, applied_on),
  INDEX (payment_id),
  FOREIGN KEY (payment_id) REFERENCES payment (id),
  FOREIGN KEY (bill_line_id) REFERENCES bill_line (id)
);
CREATE TABLE IF NOT EXISTS allocation_share (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  allocation_id INT UNSIGNED NOT NULL,
  timekeeper_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL,
  applied_on DATE NOT NULL,
  INDEX (applied_on, timekeeper_id),
  INDEX (allocation_id),
  FOREIGN KEY (allocation_id) REFERENCES allocation (id)
);
-- Shares of a flat fee line among the timekeepers who did the work behind it, fixed at issue.
CREATE TABLE IF NOT EXISTS bill_line_share (
  bill_line_id INT UNSIGNED NOT NULL,
  timekeeper_id INT UNSIGNED NOT NULL,
  weight BIGINT NOT NULL CHECK (weight > 0),
  PRIMARY KEY (bill_line_id, timekeeper_id),
  FOREIGN KEY (bill_line_id) REFERENCES bill_line (id)
);
CREATE TABLE IF NOT EXISTS standing_check (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(6) NOT NULL,
  ok BOOLEAN NOT NULL,
  detail LONGTEXT NOT NULL
);
