-- Bills that are paid from trust together, which the banks see as one movement.
CREATE TABLE IF NOT EXISTS transfer_sheet (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  number INT UNSIGNED NOT NULL UNIQUE,
  bank_account_id INT UNSIGNED NOT NULL,
  operating_account_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  total BIGINT NOT NULL CHECK (total > 0),
  bills SMALLINT UNSIGNED NOT NULL,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (day, id),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (operating_account_id) REFERENCES bank_account (id)
)
-- next
CREATE OR REPLACE TRIGGER transfer_sheet_no_update BEFORE UPDATE ON transfer_sheet FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'transfer_sheet: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER transfer_sheet_no_delete BEFORE DELETE ON transfer_sheet FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'transfer_sheet: what is posted is never changed; reverse or correct it'
