-- A check that was written before the firm moved in stands in the book from the day of moving in; when it was written is kept for itself.
ALTER TABLE payment_out ADD COLUMN IF NOT EXISTS written_on DATE NULL
-- next
ALTER TABLE firm_payment ADD COLUMN IF NOT EXISTS written_on DATE NULL, MODIFY COLUMN payee_id INT UNSIGNED NULL
-- next
CREATE TABLE IF NOT EXISTS moved_in (
  journal_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  bank_account_id INT UNSIGNED NULL UNIQUE,
  day DATE NOT NULL,
  FOREIGN KEY (journal_id) REFERENCES journal (id),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
CREATE OR REPLACE TRIGGER moved_in_no_update BEFORE UPDATE ON moved_in FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'moved_in: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER moved_in_no_delete BEFORE DELETE ON moved_in FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'moved_in: what is posted is never changed; reverse or correct it'
-- next
ALTER TABLE import_run MODIFY COLUMN what ENUM('contacts','matters','costs','opening') NOT NULL
-- next
ALTER TABLE cost_entry MODIFY COLUMN paid_from ENUM('operating','trust','owed','before') NULL
-- next
-- Checks that were written before the firm moved in were agreed to then.
CREATE OR REPLACE TRIGGER payment_out_two BEFORE UPDATE ON payment_out FOR EACH ROW FOLLOWS payment_out_keeps
  IF OLD.state = 'draft' AND NEW.state = 'posted' AND (NEW.approved_by IS NULL OR NEW.approved_by = NEW.created_by)
     AND EXISTS (SELECT 1 FROM client_ledger l JOIN bank_account b ON b.id = l.bank_account_id AND b.two_people WHERE l.id = NEW.ledger_id)
     AND NOT (NEW.written_on <=> OLD.written_on AND NEW.written_on IS NOT NULL AND NEW.written_on <= NEW.day
       AND EXISTS (SELECT 1 FROM client_ledger l JOIN moved_in v ON v.bank_account_id = l.bank_account_id AND v.day = NEW.day WHERE l.id = NEW.ledger_id)) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3115, MESSAGE_TEXT = 'payment_out: this account asks for two people';
  END IF
