-- What is posted never changes: refused here even for a user who has the privilege.
CREATE OR REPLACE TRIGGER audit_log_no_update BEFORE UPDATE ON audit_log FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'audit_log: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER audit_log_no_delete BEFORE DELETE ON audit_log FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'audit_log: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER docket_history_no_update BEFORE UPDATE ON docket_history FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'docket_history: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER docket_history_no_delete BEFORE DELETE ON docket_history FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'docket_history: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_no_update BEFORE UPDATE ON journal FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_no_delete BEFORE DELETE ON journal FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_line_no_update BEFORE UPDATE ON journal_line FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal_line: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_line_no_delete BEFORE DELETE ON journal_line FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal_line: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bank_entry_no_update BEFORE UPDATE ON bank_entry FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bank_entry: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bank_entry_no_delete BEFORE DELETE ON bank_entry FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bank_entry: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER ledger_entry_no_update BEFORE UPDATE ON ledger_entry FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'ledger_entry: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER ledger_entry_no_delete BEFORE DELETE ON ledger_entry FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'ledger_entry: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_posting_no_update BEFORE UPDATE ON journal_posting FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal_posting: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_posting_no_delete BEFORE DELETE ON journal_posting FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal_posting: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_reversal_no_update BEFORE UPDATE ON journal_reversal FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal_reversal: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_reversal_no_delete BEFORE DELETE ON journal_reversal FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'journal_reversal: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_no_update BEFORE UPDATE ON bill FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_no_delete BEFORE DELETE ON bill FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_line_no_update BEFORE UPDATE ON bill_line FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill_line: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_line_no_delete BEFORE DELETE ON bill_line FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill_line: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_pdf_no_update BEFORE UPDATE ON bill_pdf FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill_pdf: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_pdf_no_delete BEFORE DELETE ON bill_pdf FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill_pdf: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_line_share_no_update BEFORE UPDATE ON bill_line_share FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill_line_share: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_line_share_no_delete BEFORE DELETE ON bill_line_share FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill_line_share: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER payment_no_update BEFORE UPDATE ON payment FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'payment: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER payment_no_delete BEFORE DELETE ON payment FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'payment: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER allocation_no_update BEFORE UPDATE ON allocation FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'allocation: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER allocation_no_delete BEFORE DELETE ON allocation FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'allocation: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER allocation_share_no_update BEFORE UPDATE ON allocation_share FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'allocation_share: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER allocation_share_no_delete BEFORE DELETE ON allocation_share FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'allocation_share: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER check_number_no_update BEFORE UPDATE ON check_number FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'check_number: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER check_number_no_delete BEFORE DELETE ON check_number FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'check_number: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER journal_in_open_period BEFORE INSERT ON journal FOR EACH ROW
BEGIN
  IF EXISTS (SELECT 1 FROM firm WHERE books_closed_to >= NEW.day) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3101, MESSAGE_TEXT = 'period-closed';
  END IF;
END;
-- next
CREATE OR REPLACE TRIGGER journal_line_before_posting BEFORE INSERT ON journal_line FOR EACH ROW
BEGIN
  IF EXISTS (SELECT 1 FROM journal_posting p WHERE p.journal_id = NEW.journal_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3102, MESSAGE_TEXT = 'the journal is posted; nothing can be added to it';
  END IF;
END;
-- next
CREATE OR REPLACE TRIGGER bank_entry_before_posting BEFORE INSERT ON bank_entry FOR EACH ROW
BEGIN
  IF EXISTS (SELECT 1 FROM journal_posting p WHERE p.journal_id = NEW.journal_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3102, MESSAGE_TEXT = 'the journal is posted; nothing can be added to it';
  END IF;
END;
-- next
CREATE OR REPLACE TRIGGER ledger_entry_before_posting BEFORE INSERT ON ledger_entry FOR EACH ROW
BEGIN
  IF EXISTS (SELECT 1 FROM journal_posting p WHERE p.journal_id = NEW.journal_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3102, MESSAGE_TEXT = 'the journal is posted; nothing can be added to it';
  END IF;
END;
-- next
CREATE OR REPLACE TRIGGER ledger_entry_carry AFTER INSERT ON ledger_entry FOR EACH ROW
BEGIN
  INSERT INTO ledger_day (ledger_id, day, balance)
    SELECT NEW.ledger_id, NEW.day, COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = NEW.ledger_id AND d.day < NEW.day ORDER BY d.day DESC LIMIT 1), 0)
    ON DUPLICATE KEY UPDATE balance = ledger_day.balance;
  UPDATE ledger_day SET balance = balance + NEW.amount WHERE ledger_id = NEW.ledger_id AND day >= NEW.day;
END;
-- next
-- There are no deferred constraints, so a journal counts only once its posting row is in, and that checks it.
CREATE OR REPLACE TRIGGER journal_posting_balances BEFORE INSERT ON journal_posting FOR EACH ROW
BEGIN
  DECLARE off BIGINT;
  SELECT COALESCE(SUM(amount), 1) INTO off FROM journal_line WHERE journal_id = NEW.journal_id;
  IF off <> 0 THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3103, MESSAGE_TEXT = 'the journal does not balance';
  END IF;
  IF EXISTS (
    SELECT 1 FROM bank_account b
    WHERE COALESCE((SELECT SUM(e.amount) FROM bank_entry e WHERE e.journal_id = NEW.journal_id AND e.bank_account_id = b.id), 0)
       <> COALESCE((SELECT SUM(l.amount) FROM journal_line l WHERE l.journal_id = NEW.journal_id AND l.account_id = b.gl_account_id), 0)
       OR (b.kind <> 'operating' AND (
          COALESCE((SELECT SUM(e.amount) FROM bank_entry e WHERE e.journal_id = NEW.journal_id AND e.bank_account_id = b.id), 0)
       <> COALESCE((SELECT SUM(e.amount) FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE e.journal_id = NEW.journal_id AND c.bank_account_id = b.id), 0)
       OR COALESCE((SELECT SUM(e.amount) FROM bank_entry e WHERE e.journal_id = NEW.journal_id AND e.bank_account_id = b.id), 0)
       <> COALESCE(-(SELECT SUM(l.amount) FROM journal_line l WHERE l.journal_id = NEW.journal_id AND l.account_id = b.liability_account_id), 0)))
  ) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3104, MESSAGE_TEXT = 'bank, liability and client ledgers of a trust account do not move alike';
  END IF;
END;
-- next
