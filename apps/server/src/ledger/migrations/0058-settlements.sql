-- Entries that a card processor hands over as one movement, less its fees, by the name of its settlement.
CREATE TABLE IF NOT EXISTS bank_settlement (
  entry_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  settlement VARCHAR(60) NOT NULL,
  INDEX (settlement),
  FOREIGN KEY (entry_id) REFERENCES bank_entry (id)
)
-- next
CREATE OR REPLACE TRIGGER bank_settlement_no_update BEFORE UPDATE ON bank_settlement FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bank_settlement: what is posted is never changed'
-- next
CREATE OR REPLACE TRIGGER bank_settlement_no_delete BEFORE DELETE ON bank_settlement FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bank_settlement: what is posted is never changed'
