-- The firm's own rules: lines of the bank with these words are booked to this account.
CREATE TABLE IF NOT EXISTS bank_rule (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  words VARCHAR(80) NOT NULL,
  way ENUM('in','out') NOT NULL,
  amount BIGINT NULL CHECK (amount > 0),
  account_id INT UNSIGNED NOT NULL,
  memo VARCHAR(200) NOT NULL,
  made_by INT UNSIGNED NOT NULL,
  FOREIGN KEY (account_id) REFERENCES account (id),
  FOREIGN KEY (made_by) REFERENCES user_account (id)
)
-- next
-- Proposals that somebody refused are not made again; a pair by the hash of its lines and entries.
CREATE TABLE IF NOT EXISTS bank_refused (
  bank_account_id INT UNSIGNED NOT NULL,
  pair CHAR(64) CHARACTER SET ascii NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (bank_account_id, pair),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
