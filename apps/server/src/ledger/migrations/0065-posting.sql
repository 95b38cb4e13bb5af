-- What a posting is judged by, in one pass over its own legs: the rules are as before. Statements of a trigger are planned anew each
-- time that it runs, so what cannot apply is not asked.
CREATE OR REPLACE TRIGGER journal_posting_balances BEFORE INSERT ON journal_posting FOR EACH ROW
BEGIN
  DECLARE off BIGINT;
  SELECT COALESCE(SUM(amount), 1) INTO off FROM journal_line WHERE journal_id = NEW.journal_id;
  IF off <> 0 THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3103, MESSAGE_TEXT = 'the journal does not balance';
  END IF;
  IF EXISTS (
    SELECT 1 FROM (
      SELECT e.bank_account_id AS bank, e.amount AS moved, 0 AS gl, 0 AS owed, 0 AS ledgers FROM bank_entry e WHERE e.journal_id = NEW.journal_id
      UNION ALL SELECT b.id, 0, l.amount, 0, 0 FROM journal_line l JOIN bank_account b ON b.gl_account_id = l.account_id WHERE l.journal_id = NEW.journal_id
      UNION ALL SELECT b.id, 0, 0, l.amount, 0 FROM journal_line l JOIN bank_account b ON b.liability_account_id = l.account_id WHERE l.journal_id = NEW.journal_id
      UNION ALL SELECT c.bank_account_id, 0, 0, 0, e.amount FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE e.journal_id = NEW.journal_id
    ) x GROUP BY x.bank
    HAVING SUM(x.moved) <> SUM(x.gl) OR ((SELECT b.kind FROM bank_account b WHERE b.id = x.bank) <> 'operating' AND (SUM(x.moved) <> SUM(x.ledgers) OR SUM(x.moved) <> -SUM(x.owed)))
  ) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3104, MESSAGE_TEXT = 'bank, liability and client ledgers of a trust account do not move alike';
  END IF;
END
-- next
CREATE OR REPLACE TRIGGER journal_posting_trust BEFORE INSERT ON journal_posting FOR EACH ROW
BEGIN
  DECLARE from_clients BIGINT DEFAULT 0;
  DECLARE to_firm BIGINT DEFAULT 0;
  DECLARE on_bills BIGINT DEFAULT 0;
  DECLARE takes INT DEFAULT 0;
  DECLARE gives INT DEFAULT 0;
  DECLARE ownerless INT DEFAULT 0;
  DECLARE by_bank BOOLEAN DEFAULT FALSE;
  DECLARE taken BIGINT UNSIGNED;
  DECLARE own INT UNSIGNED;
  DECLARE on_day DATE;
  SELECT COALESCE(SUM(IF(c.kind <> 'firm', e.amount, 0)), 0), COALESCE(SUM(e.amount < 0), 0), COALESCE(SUM(e.amount > 0), 0), COALESCE(SUM(e.amount < 0 AND c.kind = 'unidentified'), 0),
         MIN(IF(e.amount < 0, e.id, NULL)), EXISTS (SELECT 1 FROM bank_did d WHERE d.journal_id = NEW.journal_id)
    INTO from_clients, takes, gives, ownerless, taken, by_bank FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE e.journal_id = NEW.journal_id;
  IF takes > 0 OR gives > 0 THEN
    -- A deposit that the bank took back is not refused: what stands in its own record, to the cent, and the firm's cover of it.
    IF by_bank THEN
      SELECT EXISTS (SELECT 1 FROM bank_did d WHERE d.journal_id = NEW.journal_id
          AND d.amount - d.cover = -(SELECT SUM(e.amount) FROM ledger_entry e WHERE e.journal_id = NEW.journal_id)
          AND NOT EXISTS (SELECT 1 FROM ledger_entry e WHERE e.journal_id = NEW.journal_id AND e.ledger_id <> d.ledger_id)
          AND d.cover = -COALESCE((SELECT SUM(e.amount) FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.journal_id = NEW.journal_id AND b.kind = 'operating'), 0)) INTO by_bank;
    END IF;
    IF from_clients <> 0 AND NOT by_bank THEN
      SELECT COALESCE((SELECT SUM(e.amount) FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.journal_id = NEW.journal_id AND b.kind = 'operating'), 0),
             COALESCE((SELECT SUM(l.amount) FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.journal_id = NEW.journal_id AND a.role = 'receivable' AND l.bill_id IS NOT NULL), 0)
        INTO to_firm, on_bills;
      IF (to_firm <> 0 OR on_bills <> 0) AND (to_firm <> -from_clients OR (on_bills <> from_clients AND NOT (from_clients > 0 AND on_bills = 0))) THEN
        SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3106, MESSAGE_TEXT = 'client money goes to the firm only in payment of issued bills, to the cent';
      END IF;
      IF on_bills <> 0 AND EXISTS (
          SELECT 1 FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id
            JOIN journal_line l ON l.journal_id = e.journal_id AND l.bill_id IS NOT NULL JOIN account a ON a.id = l.account_id AND a.role = 'receivable'
            JOIN bill b ON b.id = l.bill_id LEFT JOIN contact p ON p.id = b.payer_id LEFT JOIN contact o ON o.id = c.client_id
           WHERE e.journal_id = NEW.journal_id AND c.kind <> 'firm'
             AND (c.client_id IS NULL OR COALESCE(p.merged_into, p.id) <> COALESCE(o.merged_into, o.id) OR (c.matter_id IS NOT NULL AND c.matter_id <> b.matter_id))) THEN
        SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3107, MESSAGE_TEXT = 'a bill is paid from the ledger of its own payer, for its own matter';
      END IF;
    END IF;
    -- What has no owner goes to the owner that was found, as its record says, or back to whoever reverses the deposit; it is not spent.
    IF ownerless > 0 AND NOT by_bank AND EXISTS (
        SELECT 1 FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id
         WHERE e.journal_id = NEW.journal_id AND e.amount < 0 AND c.kind = 'unidentified'
           AND NOT EXISTS (SELECT 1 FROM receipt_owner o JOIN ledger_entry t ON t.journal_id = o.journal_id AND t.ledger_id = o.ledger_id AND t.amount = o.amount JOIN client_ledger k ON k.id = o.ledger_id AND k.kind = 'client'
                WHERE o.journal_id = NEW.journal_id AND e.amount = -o.amount AND NOT EXISTS (SELECT 1 FROM bank_entry x WHERE x.journal_id = NEW.journal_id))
           AND NOT EXISTS (SELECT 1 FROM journal j JOIN deposit_sheet s ON s.id = j.subject_id AND s.state = 'posted' JOIN ledger_entry t ON t.journal_id = s.journal_id AND t.ledger_id = e.ledger_id AND t.amount = -e.amount
                WHERE j.id = NEW.journal_id AND j.kind = 'sheet reversed' AND NOT EXISTS (SELECT 1 FROM journal_reversal v WHERE v.journal_id = s.journal_id))) THEN
      SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3108, MESSAGE_TEXT = 'money whose owner is not known cannot be spent';
    END IF;
    -- One client's money becomes another's only by a correction that two people made.
    IF takes > 0 AND gives > 0 AND EXISTS (
        SELECT 1 FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id AND c.kind = 'client' JOIN contact o ON o.id = c.client_id
          JOIN ledger_entry t ON t.journal_id = e.journal_id AND t.amount > 0 JOIN client_ledger k ON k.id = t.ledger_id LEFT JOIN contact p ON p.id = k.client_id
         WHERE e.journal_id = NEW.journal_id AND e.amount < 0 AND NOT COALESCE(o.merged_into, o.id) <=> COALESCE(p.merged_into, p.id))
       AND NOT EXISTS (SELECT 1 FROM trust_correction x WHERE x.journal_id = NEW.journal_id AND x.state = 'posted') THEN
      SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3113, MESSAGE_TEXT = 'one client''s money is not another''s';
    END IF;
    -- One after another, so that only what has not cleared is read, and not all that ever moved on a ledger.
    WHILE taken IS NOT NULL AND NOT by_bank DO
      SELECT e.ledger_id, e.day INTO own, on_day FROM ledger_entry e WHERE e.id = taken;
      IF COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = own AND d.day <= on_day ORDER BY d.day DESC LIMIT 1), 0)
          < COALESCE((SELECT SUM(x.amount) FROM ledger_entry x WHERE x.ledger_id = own AND x.clears_on > on_day AND x.day <= on_day), 0)
         AND NOT EXISTS (SELECT 1 FROM clearing_override o WHERE o.journal_id = NEW.journal_id AND o.ledger_id = own) THEN
        SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3109, MESSAGE_TEXT = 'money that has not cleared is spent only on the word of someone authorized';
      END IF;
      SET takes = takes - 1;
      SET taken = IF(takes > 0, (SELECT MIN(e.id) FROM ledger_entry e WHERE e.journal_id = NEW.journal_id AND e.amount < 0 AND e.id > taken), NULL);
    END WHILE;
  END IF;
END
