-- What reviewer and bookkeeper say to each other about a pre-bill, and since when it lies with whom.
CREATE TABLE IF NOT EXISTS pre_bill_comment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  pre_bill_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  text VARCHAR(2000) NOT NULL,
  INDEX (pre_bill_id, id),
  FOREIGN KEY (pre_bill_id) REFERENCES pre_bill (id) ON DELETE CASCADE,
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
ALTER TABLE pre_bill ADD COLUMN IF NOT EXISTS state_since DATETIME(6) NULL
