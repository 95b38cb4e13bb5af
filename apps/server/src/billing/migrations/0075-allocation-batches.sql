-- An act that pays a bill writes a row for each of its lines. What the bill leaves open, what its matter owes and what is left of the
-- document are reckoned with the last of them: the rows before say that more follow. Reckoned at each row, a bill of thousands of lines
-- wrote its few figures thousands of times in one transaction, and what the database then keeps of their older states grows with the square.
ALTER TABLE allocation ADD COLUMN IF NOT EXISTS more BOOLEAN NOT NULL DEFAULT FALSE
-- next
DROP TRIGGER IF EXISTS allocation_owed
-- next
DROP TRIGGER IF EXISTS payment_credit_applied
-- next
CREATE OR REPLACE TRIGGER allocation_stands AFTER INSERT ON allocation FOR EACH ROW
BEGIN
  DECLARE was BIGINT;
  DECLARE stands BIGINT;
  DECLARE of_matter INT UNSIGNED;
  IF NOT NEW.more THEN
    -- Locked before it is added up: of two acts at once the second one sees what the first one wrote.
    SELECT f.open_amount, f.matter_id INTO was, of_matter FROM bill_figure f WHERE f.bill_id = NEW.bill_id FOR UPDATE;
    SET stands = (SELECT b.total FROM bill b WHERE b.id = NEW.bill_id) - (SELECT SUM(a.amount) FROM allocation a WHERE a.bill_id = NEW.bill_id);
    UPDATE bill_figure SET open_amount = stands, is_open = stands <> 0 WHERE bill_id = NEW.bill_id;
    UPDATE matter_figure SET owed = owed + stands - was WHERE matter_id = of_matter;
    UPDATE payment_credit
       SET amount = (SELECT p.amount FROM payment p WHERE p.id = NEW.payment_id)
         - (SELECT x.amount FROM payment_applied x WHERE x.payment_id = NEW.payment_id)
         - COALESCE((SELECT SUM(u.amount) FROM credit_use u WHERE u.payment_id = NEW.payment_id), 0)
     WHERE payment_id = NEW.payment_id AND NOT EXISTS (SELECT 1 FROM payment_reversal r WHERE r.payment_id = NEW.payment_id);
  END IF;
END
