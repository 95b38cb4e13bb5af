-- How the time of a line stood when it was billed: what became of work is told from lines, without a look at each entry, and stays as it
-- was though an entry that a void gave back is changed later.
ALTER TABLE bill_line
  ADD COLUMN IF NOT EXISTS time_charge ENUM('billable','no charge','non-billable') NULL,
  ADD COLUMN IF NOT EXISTS time_covered BOOLEAN NULL
-- next
DROP TRIGGER IF EXISTS bill_line_no_update
-- next
UPDATE bill_line l JOIN time_entry t ON t.id = l.source_id SET l.time_charge = t.charge, l.time_covered = t.covered WHERE l.kind = 'time'
-- next
CREATE OR REPLACE TRIGGER bill_line_no_update BEFORE UPDATE ON bill_line FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'bill_line: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER bill_line_time BEFORE INSERT ON bill_line FOR EACH ROW
  IF NEW.kind = 'time' THEN
    SET NEW.time_charge = (SELECT t.charge FROM time_entry t WHERE t.id = NEW.source_id), NEW.time_covered = (SELECT t.covered FROM time_entry t WHERE t.id = NEW.source_id);
  END IF
-- next
ALTER TABLE bill_line
  DROP INDEX IF EXISTS bill_line_work,
  ADD INDEX IF NOT EXISTS bill_line_by_work (kind, day, bill_id, timekeeper_id, net, discount, worked, charged, no_charge, time_charge, time_covered),
  ADD INDEX IF NOT EXISTS bill_line_by_bill (bill_id, kind, timekeeper_id, day, net, discount, worked, charged, no_charge, time_charge, time_covered)
-- next
ALTER TABLE time_entry
  DROP INDEX IF EXISTS time_entry_sums,
  ADD INDEX IF NOT EXISTS time_entry_by_day (day, user_id, matter_id, charge, covered, state, bill_id, minutes, worked_minutes, amount)
-- next
ALTER TABLE allocation
  ADD INDEX IF NOT EXISTS allocation_by_line (bill_line_id, payment_id, amount, applied_on),
  ADD INDEX IF NOT EXISTS allocation_by_day (applied_on, bill_line_id, payment_id, bill_id, amount)
-- next
ALTER TABLE payment ADD INDEX IF NOT EXISTS payment_kind (kind)
