-- Every number of a check is accounted for: printed or written by hand, spoiled, void, stale, paid.
CREATE TABLE IF NOT EXISTS print_job (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bank_account_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  closed_at DATETIME(6) NULL,
  INDEX (user_id, closed_at),
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS print_job_check (
  job_id INT UNSIGNED NOT NULL,
  payment_id INT UNSIGNED NOT NULL,
  outcome ENUM('printed','spoiled','again') NULL,
  PRIMARY KEY (job_id, payment_id),
  INDEX (payment_id),
  FOREIGN KEY (job_id) REFERENCES print_job (id),
  FOREIGN KEY (payment_id) REFERENCES payment_out (id)
)
-- next
-- A check left the house: printed, or written by hand.
CREATE TABLE IF NOT EXISTS check_out (
  payment_id INT UNSIGNED NOT NULL PRIMARY KEY,
  how ENUM('printed','by hand') NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  FOREIGN KEY (payment_id) REFERENCES payment_out (id)
)
-- next
-- What was paid before checks were followed has left the house long ago.
INSERT IGNORE INTO check_out (payment_id, how, user_id, at) SELECT p.id, 'printed', p.created_by, p.created_at FROM payment_out p WHERE p.state = 'posted' AND p.method = 'check'
-- next
ALTER TABLE check_number ADD COLUMN IF NOT EXISTS spoiled VARCHAR(200) NOT NULL DEFAULT ''
-- next
CREATE TABLE IF NOT EXISTS check_layout (
  bank_account_id INT UNSIGNED NOT NULL PRIMARY KEY,
  layout LONGTEXT NOT NULL,
  numbers BOOLEAN NOT NULL DEFAULT TRUE,
  FOREIGN KEY (bank_account_id) REFERENCES bank_account (id)
)
-- next
-- Money of checks that nobody cashed, back on its ledger: it stays the client's, and is followed until it is paid or handed to the state.
CREATE TABLE IF NOT EXISTS unclaimed (
  payment_id INT UNSIGNED NOT NULL PRIMARY KEY,
  last_contact DATE NULL,
  note VARCHAR(300) NOT NULL DEFAULT '',
  settled_on DATE NULL,
  settled VARCHAR(300) NOT NULL DEFAULT '',
  FOREIGN KEY (payment_id) REFERENCES payment_out (id)
)
-- next
CREATE OR REPLACE TRIGGER check_out_no_update BEFORE UPDATE ON check_out FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'check_out: what is posted is never changed'
-- next
CREATE OR REPLACE TRIGGER check_out_no_delete BEFORE DELETE ON check_out FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'check_out: what is posted is never changed'
