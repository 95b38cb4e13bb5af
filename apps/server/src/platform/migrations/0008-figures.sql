-- What the list of matters is filtered and summed by, kept beside the matter by triggers: unbilled work and money held.
-- The entries stay the truth; a test compares the two. The application may only read it.
CREATE TABLE IF NOT EXISTS matter_figure (
  matter_id INT UNSIGNED NOT NULL PRIMARY KEY,
  -- Time on a flat fee is covered by its portions.
  flat BOOLEAN NOT NULL DEFAULT FALSE,
  unbilled_time BIGINT NOT NULL DEFAULT 0,
  unbilled_other BIGINT NOT NULL DEFAULT 0,
  unbilled BIGINT AS (IF(flat, 0, unbilled_time) + unbilled_other) PERSISTENT,
  held BIGINT NOT NULL DEFAULT 0,
  INDEX (unbilled, matter_id),
  INDEX (held, matter_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id) ON DELETE CASCADE
)
-- next
CREATE OR REPLACE PROCEDURE add_to_matter_figure(of_matter INT UNSIGNED, time_amount BIGINT, other_amount BIGINT, held_amount BIGINT)
BEGIN
  IF time_amount <> 0 OR other_amount <> 0 OR held_amount <> 0 THEN
    INSERT INTO matter_figure (matter_id, flat, unbilled_time, unbilled_other, held)
      VALUES (of_matter, COALESCE((SELECT m.billing = 'flat' FROM matter m WHERE m.id = of_matter), FALSE), time_amount, other_amount, held_amount)
      ON DUPLICATE KEY UPDATE unbilled_time = unbilled_time + time_amount, unbilled_other = unbilled_other + other_amount, held = held + held_amount;
  END IF;
END
-- next
CREATE OR REPLACE TRIGGER time_entry_figure_made AFTER INSERT ON time_entry FOR EACH ROW
  CALL add_to_matter_figure(NEW.matter_id, IF(NEW.bill_id IS NULL AND NEW.state = 'posted' AND NEW.charge = 'billable', NEW.amount, 0), 0, 0)
-- next
CREATE OR REPLACE TRIGGER time_entry_figure_moved AFTER UPDATE ON time_entry FOR EACH ROW
  IF NEW.matter_id = OLD.matter_id THEN
    CALL add_to_matter_figure(NEW.matter_id, IF(NEW.bill_id IS NULL AND NEW.state = 'posted' AND NEW.charge = 'billable', NEW.amount, 0) - IF(OLD.bill_id IS NULL AND OLD.state = 'posted' AND OLD.charge = 'billable', OLD.amount, 0), 0, 0);
  ELSE
    CALL add_to_matter_figure(OLD.matter_id, -IF(OLD.bill_id IS NULL AND OLD.state = 'posted' AND OLD.charge = 'billable', OLD.amount, 0), 0, 0);
    CALL add_to_matter_figure(NEW.matter_id, IF(NEW.bill_id IS NULL AND NEW.state = 'posted' AND NEW.charge = 'billable', NEW.amount, 0), 0, 0);
  END IF
-- next
CREATE OR REPLACE TRIGGER time_entry_figure_gone AFTER DELETE ON time_entry FOR EACH ROW
  CALL add_to_matter_figure(OLD.matter_id, -IF(OLD.bill_id IS NULL AND OLD.state = 'posted' AND OLD.charge = 'billable', OLD.amount, 0), 0, 0)
-- next
CREATE OR REPLACE TRIGGER cost_entry_figure_made AFTER INSERT ON cost_entry FOR EACH ROW
  CALL add_to_matter_figure(NEW.matter_id, 0, IF(NEW.bill_id IS NULL, NEW.amount, 0), 0)
-- next
CREATE OR REPLACE TRIGGER cost_entry_figure_moved AFTER UPDATE ON cost_entry FOR EACH ROW
  IF NEW.matter_id = OLD.matter_id THEN
    CALL add_to_matter_figure(NEW.matter_id, 0, IF(NEW.bill_id IS NULL, NEW.amount, 0) - IF(OLD.bill_id IS NULL, OLD.amount, 0), 0);
  ELSE
    CALL add_to_matter_figure(OLD.matter_id, 0, -IF(OLD.bill_id IS NULL, OLD.amount, 0), 0);
    CALL add_to_matter_figure(NEW.matter_id, 0, IF(NEW.bill_id IS NULL, NEW.amount, 0), 0);
  END IF
-- next
CREATE OR REPLACE TRIGGER cost_entry_figure_gone AFTER DELETE ON cost_entry FOR EACH ROW
  CALL add_to_matter_figure(OLD.matter_id, 0, -IF(OLD.bill_id IS NULL, OLD.amount, 0), 0)
-- next
CREATE OR REPLACE TRIGGER fee_portion_figure_made AFTER INSERT ON fee_portion FOR EACH ROW
  CALL add_to_matter_figure(NEW.matter_id, 0, IF(NEW.bill_id IS NULL, NEW.amount, 0), 0)
-- next
CREATE OR REPLACE TRIGGER fee_portion_figure_moved AFTER UPDATE ON fee_portion FOR EACH ROW
  IF NEW.matter_id = OLD.matter_id THEN
    CALL add_to_matter_figure(NEW.matter_id, 0, IF(NEW.bill_id IS NULL, NEW.amount, 0) - IF(OLD.bill_id IS NULL, OLD.amount, 0), 0);
  ELSE
    CALL add_to_matter_figure(OLD.matter_id, 0, -IF(OLD.bill_id IS NULL, OLD.amount, 0), 0);
    CALL add_to_matter_figure(NEW.matter_id, 0, IF(NEW.bill_id IS NULL, NEW.amount, 0), 0);
  END IF
-- next
CREATE OR REPLACE TRIGGER fee_portion_figure_gone AFTER DELETE ON fee_portion FOR EACH ROW
  CALL add_to_matter_figure(OLD.matter_id, 0, -IF(OLD.bill_id IS NULL, OLD.amount, 0), 0)
-- next
CREATE OR REPLACE TRIGGER ledger_entry_figure AFTER INSERT ON ledger_entry FOR EACH ROW
BEGIN
  DECLARE of_matter INT UNSIGNED DEFAULT (SELECT l.matter_id FROM client_ledger l WHERE l.id = NEW.ledger_id);
  IF of_matter IS NOT NULL THEN
    CALL add_to_matter_figure(of_matter, 0, 0, NEW.amount);
  END IF;
END
-- next
CREATE OR REPLACE TRIGGER matter_figure_flat AFTER UPDATE ON matter FOR EACH ROW
  IF NEW.billing <> OLD.billing THEN
    UPDATE matter_figure SET flat = (NEW.billing = 'flat') WHERE matter_id = NEW.id;
  END IF
-- next
DELETE FROM matter_figure
-- next
INSERT INTO matter_figure (matter_id, flat, unbilled_time, unbilled_other, held)
SELECT m.id, m.billing = 'flat', SUM(x.time_amount), SUM(x.other_amount), SUM(x.held) FROM (
  SELECT matter_id, IF(time_entry.bill_id IS NULL AND time_entry.state = 'posted' AND time_entry.charge = 'billable', time_entry.amount, 0) AS time_amount, 0 AS other_amount, 0 AS held FROM time_entry
  UNION ALL SELECT matter_id, 0, IF(cost_entry.bill_id IS NULL, cost_entry.amount, 0), 0 FROM cost_entry
  UNION ALL SELECT matter_id, 0, IF(fee_portion.bill_id IS NULL, fee_portion.amount, 0), 0 FROM fee_portion
  UNION ALL SELECT l.matter_id, 0, 0, e.amount FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE l.matter_id IS NOT NULL
) x JOIN matter m ON m.id = x.matter_id GROUP BY m.id
-- next
-- Matters of a court, and those opened in a span, are counted and ordered from an index alone.
CREATE INDEX IF NOT EXISTS matter_court_of ON matter (court, closed_on, lead_id, active_on, id, staff_file)
-- next
DROP INDEX IF EXISTS matter_court ON matter
-- next
CREATE INDEX IF NOT EXISTS matter_opened ON matter (opened_on, staff_file, closed_on, active_on, id)
-- next
DROP INDEX IF EXISTS matter_count ON matter
-- next
CREATE INDEX IF NOT EXISTS matter_count_of ON matter (closed_on, staff_file, kind, id)
