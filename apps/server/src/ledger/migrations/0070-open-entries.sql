-- Entries of the bank book that no line of a statement is matched to. Reconciling looks for these alone; of all that was ever booked they
-- are few. Kept by the triggers below and written by nothing else.
CREATE TABLE IF NOT EXISTS bank_open_entry (
  entry_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  INDEX bank_open_entry_day (bank_account_id, day, entry_id),
  FOREIGN KEY (entry_id) REFERENCES bank_entry (id),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
INSERT IGNORE INTO bank_open_entry (entry_id, bank_account_id, day)
  SELECT e.id, e.bank_account_id, e.day FROM bank_entry e LEFT JOIN bank_match_entry k ON k.entry_id = e.id WHERE k.entry_id IS NULL
-- next
CREATE OR REPLACE TRIGGER bank_entry_opens AFTER INSERT ON bank_entry FOR EACH ROW
  INSERT INTO bank_open_entry (entry_id, bank_account_id, day) VALUES (NEW.id, NEW.bank_account_id, NEW.day)
-- next
CREATE OR REPLACE TRIGGER bank_match_entry_made AFTER INSERT ON bank_match_entry FOR EACH ROW
  DELETE FROM bank_open_entry WHERE entry_id = NEW.entry_id
-- next
CREATE OR REPLACE TRIGGER bank_match_entry_opens AFTER DELETE ON bank_match_entry FOR EACH ROW
  INSERT INTO bank_open_entry (entry_id, bank_account_id, day) SELECT id, bank_account_id, day FROM bank_entry WHERE id = OLD.entry_id
