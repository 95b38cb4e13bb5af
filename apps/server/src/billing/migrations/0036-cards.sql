-- A bill paid by link on the card processor's page. The token of a link is told once; only its hash is kept.
CREATE TABLE IF NOT EXISTS pay_link (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bill_id INT UNSIGNED NOT NULL,
  token_hash CHAR(64) NOT NULL UNIQUE,
  -- Where whoever made it works: payers are led back there, whatever address a later request names.
  origin VARCHAR(200) NOT NULL,
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  ended_at DATETIME(6) NULL,
  INDEX (bill_id),
  FOREIGN KEY (bill_id) REFERENCES bill (id),
  FOREIGN KEY (made_by) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS card_charge (
  id CHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  link_id INT UNSIGNED NOT NULL,
  bill_id INT UNSIGNED NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  state ENUM('begun','refused','paid','disputed') NOT NULL DEFAULT 'begun',
  -- The payment that stands for it now; none while it is not paid, or disputed.
  payment_id INT UNSIGNED NULL,
  fee BIGINT NULL,
  fee_journal_id BIGINT UNSIGNED NULL,
  -- What people are to look at: something that the books did not allow.
  fault VARCHAR(300) NOT NULL DEFAULT '',
  begun_at DATETIME(6) NOT NULL,
  INDEX (bill_id),
  INDEX (link_id, state),
  FOREIGN KEY (link_id) REFERENCES pay_link (id),
  FOREIGN KEY (bill_id) REFERENCES bill (id)
)
-- next
-- What the processor told, each once by its own id.
CREATE TABLE IF NOT EXISTS card_event (
  id VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  charge_id CHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind ENUM('paid','refused','disputed','dispute won','settled') NOT NULL,
  at DATETIME(6) NOT NULL,
  INDEX (charge_id),
  FOREIGN KEY (charge_id) REFERENCES card_charge (id)
)
