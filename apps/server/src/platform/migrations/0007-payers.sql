-- Several payers of a matter, in order, each with a fixed amount of every bill or a part of what is left. Where there are
-- none, whom to bill bears it all; where there are some, the first of them is whom to bill.
CREATE TABLE IF NOT EXISTS matter_payer (
  matter_id INT UNSIGNED NOT NULL,
  ordinal TINYINT UNSIGNED NOT NULL,
  contact_id INT UNSIGNED NOT NULL,
  fixed BIGINT NULL,
  basis_points SMALLINT UNSIGNED NULL,
  PRIMARY KEY (matter_id, ordinal),
  UNIQUE (matter_id, contact_id),
  INDEX (contact_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (contact_id) REFERENCES contact (id),
  CHECK ((fixed IS NULL) <> (basis_points IS NULL)),
  CHECK (COALESCE(fixed, basis_points) > 0)
)
-- next
-- As they were when the pre-bill was made.
CREATE TABLE IF NOT EXISTS pre_bill_payer (
  pre_bill_id INT UNSIGNED NOT NULL,
  ordinal TINYINT UNSIGNED NOT NULL,
  contact_id INT UNSIGNED NOT NULL,
  fixed BIGINT NULL,
  basis_points SMALLINT UNSIGNED NULL,
  PRIMARY KEY (pre_bill_id, ordinal),
  UNIQUE (pre_bill_id, contact_id),
  INDEX (contact_id),
  FOREIGN KEY (pre_bill_id) REFERENCES pre_bill (id),
  FOREIGN KEY (contact_id) REFERENCES contact (id),
  CHECK ((fixed IS NULL) <> (basis_points IS NULL))
)
-- next
-- The bills of one pre-bill, so that those to several payers are read together.
ALTER TABLE bill ADD COLUMN IF NOT EXISTS pre_bill_id INT UNSIGNED NULL
-- next
CREATE INDEX IF NOT EXISTS bill_pre_bill ON bill (pre_bill_id)
