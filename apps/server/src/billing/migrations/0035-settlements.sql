-- How a recovery was shared: kept as it was worked out, with what it was worked out from.
CREATE TABLE IF NOT EXISTS settlement (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  recovered_on DATE NOT NULL,
  from_whom VARCHAR(160) NOT NULL,
  gross BIGINT NOT NULL CHECK (gross > 0),
  fee_of ENUM('gross','net of costs') NOT NULL,
  stage VARCHAR(120) NOT NULL,
  numerator INT UNSIGNED NOT NULL,
  denominator INT UNSIGNED NOT NULL,
  fee BIGINT NOT NULL,
  costs BIGINT NOT NULL,
  owed BIGINT NOT NULL,
  tax BIGINT NOT NULL,
  to_client BIGINT NOT NULL CHECK (to_client >= 0),
  -- What its bill comes to, with what else was unbilled.
  billed BIGINT NOT NULL,
  snapshot LONGTEXT NOT NULL,
  portion_id INT UNSIGNED NULL,
  client_payment_id INT UNSIGNED NULL,
  withdrawn_on DATE NULL,
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  INDEX (matter_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (portion_id) REFERENCES fee_portion (id) ON DELETE SET NULL,
  FOREIGN KEY (client_payment_id) REFERENCES payment_out (id),
  FOREIGN KEY (made_by) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS settlement_lien (
  settlement_id INT UNSIGNED NOT NULL,
  ordinal TINYINT UNSIGNED NOT NULL,
  payee VARCHAR(160) NOT NULL,
  address VARCHAR(400) NOT NULL DEFAULT '',
  text VARCHAR(160) NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  payment_id INT UNSIGNED NULL,
  PRIMARY KEY (settlement_id, ordinal),
  FOREIGN KEY (settlement_id) REFERENCES settlement (id),
  FOREIGN KEY (payment_id) REFERENCES payment_out (id)
)
-- next
-- Lines of a day and person may stand on the bill as one: the others point at the one that carries them.
ALTER TABLE pre_bill_line ADD COLUMN IF NOT EXISTS merged_into INT UNSIGNED NULL, ADD INDEX IF NOT EXISTS pre_bill_line_merged (merged_into)
-- next
-- A fee that came with a settlement or was added in review, beside those of the arrangement.
ALTER TABLE fee_portion ADD COLUMN IF NOT EXISTS added BOOLEAN NOT NULL DEFAULT FALSE
