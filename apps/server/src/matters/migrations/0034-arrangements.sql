-- How a matter is paid for may change on a day while it runs; the day on which work was done says which arrangement it falls under.
ALTER TABLE matter MODIFY billing ENUM('hourly','flat','mixed','contingency','no charge','grant') NOT NULL DEFAULT 'hourly'
-- next
CREATE TABLE IF NOT EXISTS matter_arrangement (
  matter_id INT UNSIGNED NOT NULL,
  from_day DATE NOT NULL,
  billing ENUM('hourly','flat','mixed','contingency','no charge','grant') NOT NULL,
  set_by INT UNSIGNED NOT NULL,
  PRIMARY KEY (matter_id, from_day),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (set_by) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS contingent_fee (
  matter_id INT UNSIGNED NOT NULL PRIMARY KEY,
  fee_of ENUM('gross','net of costs') NOT NULL,
  FOREIGN KEY (matter_id) REFERENCES matter (id)
)
-- next
CREATE TABLE IF NOT EXISTS contingent_stage (
  matter_id INT UNSIGNED NOT NULL,
  ordinal TINYINT UNSIGNED NOT NULL,
  label VARCHAR(120) NOT NULL,
  -- An exact part: a third is one of three.
  numerator INT UNSIGNED NOT NULL CHECK (numerator > 0),
  denominator INT UNSIGNED NOT NULL,
  PRIMARY KEY (matter_id, ordinal),
  CHECK (numerator <= denominator),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
)
-- next
-- A retainer: what is to be held at least, and up to what it is filled again.
CREATE TABLE IF NOT EXISTS matter_retainer (
  matter_id INT UNSIGNED NOT NULL PRIMARY KEY,
  floor_amount BIGINT NOT NULL CHECK (floor_amount > 0),
  fill_to BIGINT NOT NULL,
  CHECK (fill_to BETWEEN floor_amount AND 100000000000),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
)
-- next
-- A portion is charged when the matter opens, or when it is reached; a stage of the matter may say when that is.
ALTER TABLE fee_portion ADD COLUMN IF NOT EXISTS due ENUM('opening','reached') NOT NULL DEFAULT 'opening' AFTER amount,
  ADD COLUMN IF NOT EXISTS stage_id INT UNSIGNED NULL AFTER due,
  ADD COLUMN IF NOT EXISTS open_amount BIGINT AS (IF(bill_id IS NULL AND (due = 'opening' OR earned_on IS NOT NULL), amount, 0)) PERSISTENT,
  ADD INDEX IF NOT EXISTS fee_portion_stage (stage_id)
-- next
CREATE OR REPLACE TRIGGER fee_portion_figure_made AFTER INSERT ON fee_portion FOR EACH ROW
  CALL add_to_matter_figure(NEW.matter_id, 0, NEW.open_amount, 0)
-- next
CREATE OR REPLACE TRIGGER fee_portion_figure_moved AFTER UPDATE ON fee_portion FOR EACH ROW
  IF NEW.matter_id = OLD.matter_id THEN
    CALL add_to_matter_figure(NEW.matter_id, 0, NEW.open_amount - OLD.open_amount, 0);
  ELSE
    CALL add_to_matter_figure(OLD.matter_id, 0, -OLD.open_amount, 0);
    CALL add_to_matter_figure(NEW.matter_id, 0, NEW.open_amount, 0);
  END IF
-- next
CREATE OR REPLACE TRIGGER fee_portion_figure_gone AFTER DELETE ON fee_portion FOR EACH ROW
  CALL add_to_matter_figure(OLD.matter_id, 0, -OLD.open_amount, 0)
-- next
-- Whether a fee covers an entry, by the arrangement of its matter on its day; what was billed stays as it was.
ALTER TABLE time_entry ADD COLUMN IF NOT EXISTS covered BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS open_amount BIGINT AS (IF(bill_id IS NULL AND state = 'posted' AND charge = 'billable' AND NOT covered, amount, 0)) PERSISTENT,
  -- Whether it goes on the next bill, be it at nothing; what waits is a small part of what was ever recorded.
  ADD COLUMN IF NOT EXISTS waits BOOLEAN AS (bill_id IS NULL AND state = 'posted' AND charge <> 'non-billable') PERSISTENT,
  ADD INDEX IF NOT EXISTS time_entry_waits (waits, matter_id, day, open_amount)
-- next
CREATE OR REPLACE FUNCTION fee_covers(of_matter INT UNSIGNED, on_day DATE) RETURNS BOOLEAN READS SQL DATA
  RETURN COALESCE((SELECT a.billing FROM matter_arrangement a WHERE a.matter_id = of_matter AND a.from_day <= on_day ORDER BY a.from_day DESC LIMIT 1),
    (SELECT m.billing FROM matter m WHERE m.id = of_matter)) IN ('flat', 'contingency')
-- next
CREATE OR REPLACE TRIGGER time_entry_covered_made BEFORE INSERT ON time_entry FOR EACH ROW
  SET NEW.covered = fee_covers(NEW.matter_id, NEW.day)
-- next
CREATE OR REPLACE TRIGGER time_entry_covered_moved BEFORE UPDATE ON time_entry FOR EACH ROW
  IF NEW.bill_id IS NULL AND (NEW.matter_id <> OLD.matter_id OR NEW.day <> OLD.day) THEN
    SET NEW.covered = fee_covers(NEW.matter_id, NEW.day);
  END IF
-- next
CREATE OR REPLACE TRIGGER time_entry_figure_made AFTER INSERT ON time_entry FOR EACH ROW
  CALL add_to_matter_figure(NEW.matter_id, NEW.open_amount, 0, 0)
-- next
CREATE OR REPLACE TRIGGER time_entry_figure_moved AFTER UPDATE ON time_entry FOR EACH ROW
  IF NEW.matter_id = OLD.matter_id THEN
    CALL add_to_matter_figure(NEW.matter_id, NEW.open_amount - OLD.open_amount, 0, 0);
  ELSE
    CALL add_to_matter_figure(OLD.matter_id, -OLD.open_amount, 0, 0);
    CALL add_to_matter_figure(NEW.matter_id, NEW.open_amount, 0, 0);
  END IF
-- next
CREATE OR REPLACE TRIGGER time_entry_figure_gone AFTER DELETE ON time_entry FOR EACH ROW
  CALL add_to_matter_figure(OLD.matter_id, -OLD.open_amount, 0, 0)
-- next
DROP TRIGGER IF EXISTS matter_figure_flat
-- next
ALTER TABLE matter_figure DROP INDEX IF EXISTS unbilled, DROP COLUMN IF EXISTS unbilled, DROP COLUMN IF EXISTS flat
-- next
ALTER TABLE matter_figure ADD COLUMN unbilled BIGINT AS (unbilled_time + unbilled_other) PERSISTENT AFTER unbilled_other, ADD INDEX unbilled (unbilled, matter_id)
-- next
CREATE OR REPLACE PROCEDURE add_to_matter_figure(of_matter INT UNSIGNED, time_amount BIGINT, other_amount BIGINT, held_amount BIGINT)
BEGIN
  IF time_amount <> 0 OR other_amount <> 0 OR held_amount <> 0 THEN
    INSERT INTO matter_figure (matter_id, unbilled_time, unbilled_other, held)
      VALUES (of_matter, time_amount, other_amount, held_amount)
      ON DUPLICATE KEY UPDATE unbilled_time = unbilled_time + time_amount, unbilled_other = unbilled_other + other_amount, held = held + held_amount;
  END IF;
END
-- next
UPDATE time_entry t JOIN matter m ON m.id = t.matter_id SET t.covered = TRUE WHERE m.billing = 'flat' AND NOT t.covered
-- next
DELETE FROM matter_figure
-- next
INSERT INTO matter_figure (matter_id, unbilled_time, unbilled_other, held)
SELECT x.matter_id, SUM(x.time_amount), SUM(x.other_amount), SUM(x.held) FROM (
  SELECT matter_id, open_amount AS time_amount, 0 AS other_amount, 0 AS held FROM time_entry
  UNION ALL SELECT matter_id, 0, open_amount, 0 FROM cost_entry
  UNION ALL SELECT matter_id, 0, open_amount, 0 FROM fee_portion
  UNION ALL SELECT l.matter_id, 0, 0, e.amount FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE l.matter_id IS NOT NULL
) x GROUP BY x.matter_id
