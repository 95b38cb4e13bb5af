-- What each bank account moved on a day, by its bank book and apart from it by its client ledgers, added up with the days of accounts: a
-- balance as of any day, and the standing check, no longer read every entry that there is.
CREATE TABLE IF NOT EXISTS bank_day (
  bank_account_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  bank BIGINT NOT NULL,
  ledgers BIGINT NOT NULL,
  unidentified BIGINT NOT NULL,
  firm BIGINT NOT NULL,
  PRIMARY KEY (bank_account_id, day),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
-- Nothing posts while tables are brought up to date, and the mark stands where it stood.
INSERT IGNORE INTO bank_day (bank_account_id, day, bank, ledgers, unidentified, firm)
  SELECT bank_account_id, day, SUM(bank), SUM(ledgers), SUM(unidentified), SUM(firm) FROM (
    SELECT bank_account_id, day, amount AS bank, 0 AS ledgers, 0 AS unidentified, 0 AS firm FROM bank_entry
     WHERE journal_id <= (SELECT up_to FROM account_day_mark WHERE id = 1)
    UNION ALL
    SELECT l.bank_account_id, e.day, 0, e.amount, IF(l.kind = 'unidentified', e.amount, 0), IF(l.kind = 'firm', e.amount, 0)
      FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE e.journal_id <= (SELECT up_to FROM account_day_mark WHERE id = 1)
  ) x GROUP BY bank_account_id, day
-- next
-- How many lines an account has on a day, and what of them is debit: a page of its general ledger says both for its span.
ALTER TABLE account_day ADD COLUMN IF NOT EXISTS line_count INT UNSIGNED NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS debit BIGINT NOT NULL DEFAULT 0
-- next
UPDATE account_day d JOIN (
    SELECT account_id, day, COUNT(*) AS n, SUM(GREATEST(amount, 0)) AS debit FROM journal_line
     WHERE journal_id <= (SELECT up_to FROM account_day_mark WHERE id = 1) GROUP BY account_id, day
  ) x ON x.account_id = d.account_id AND x.day = d.day
   SET d.line_count = x.n, d.debit = x.debit
-- next
-- Journals that were found not to balance as their lines were added up, and whether a check read everything from the first entry on.
ALTER TABLE account_day_mark ADD COLUMN IF NOT EXISTS unbalanced INT UNSIGNED NOT NULL DEFAULT 0
-- next
ALTER TABLE standing_check ADD COLUMN IF NOT EXISTS whole BOOLEAN NOT NULL DEFAULT FALSE, ADD INDEX IF NOT EXISTS standing_check_whole (whole, id)
