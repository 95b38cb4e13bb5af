-- Checks of operating accounts are printed in jobs, as those of trust are.
CREATE TABLE IF NOT EXISTS print_job_firm_check (
  job_id INT UNSIGNED NOT NULL,
  firm_payment_id INT UNSIGNED NOT NULL,
  outcome ENUM('printed','spoiled','again') NULL,
  PRIMARY KEY (job_id, firm_payment_id),
  INDEX (firm_payment_id),
  FOREIGN KEY (job_id) REFERENCES print_job (id),
  FOREIGN KEY (firm_payment_id) REFERENCES firm_payment (id)
)
-- next
CREATE TABLE IF NOT EXISTS firm_check_out (
  firm_payment_id INT UNSIGNED NOT NULL PRIMARY KEY,
  how ENUM('printed','by hand') NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  FOREIGN KEY (firm_payment_id) REFERENCES firm_payment (id)
)
-- next
-- What was paid before this was followed has left the house.
INSERT IGNORE INTO firm_check_out (firm_payment_id, how, user_id, at) SELECT id, 'printed', created_by, created_at FROM firm_payment WHERE state = 'posted' AND method = 'check'
-- next
CREATE OR REPLACE TRIGGER firm_check_out_no_update BEFORE UPDATE ON firm_check_out FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'firm_check_out: what is posted is never changed'
-- next
CREATE OR REPLACE TRIGGER firm_check_out_no_delete BEFORE DELETE ON firm_check_out FOR EACH ROW SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'firm_check_out: what is posted is never changed'
