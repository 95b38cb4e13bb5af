-- What is left over of each payment, kept by triggers and read only by the application, so that the list of credits need not work
-- it out for every payment there ever was. Whatever is not money leaves nothing over.
CREATE TABLE IF NOT EXISTS payment_credit (
  payment_id INT UNSIGNED NOT NULL PRIMARY KEY,
  amount BIGINT NOT NULL,
  INDEX payment_credit_left (amount, payment_id),
  CONSTRAINT payment_credit_never_below_zero CHECK (amount >= 0),
  FOREIGN KEY (payment_id) REFERENCES payment (id)
)
-- next
REPLACE INTO payment_credit (payment_id, amount)
  SELECT p.id, IF(EXISTS (SELECT 1 FROM payment_reversal r WHERE r.payment_id = p.id), 0,
      p.amount - COALESCE((SELECT SUM(a.amount) FROM allocation a WHERE a.payment_id = p.id), 0) - COALESCE((SELECT SUM(u.amount) FROM credit_use u WHERE u.payment_id = p.id), 0))
    FROM payment p WHERE p.kind IN ('check', 'card', 'transfer', 'bank debit')
-- next
CREATE OR REPLACE TRIGGER payment_credit_begins AFTER INSERT ON payment FOR EACH ROW
  IF NEW.kind IN ('check', 'card', 'transfer', 'bank debit') THEN
    INSERT INTO payment_credit (payment_id, amount) VALUES (NEW.id, NEW.amount);
  END IF
-- next
CREATE OR REPLACE TRIGGER payment_credit_applied AFTER INSERT ON allocation FOR EACH ROW
  UPDATE payment_credit SET amount = amount - NEW.amount
   WHERE payment_id = NEW.payment_id AND NOT EXISTS (SELECT 1 FROM payment_reversal r WHERE r.payment_id = NEW.payment_id)
-- next
CREATE OR REPLACE TRIGGER payment_credit_used AFTER INSERT ON credit_use FOR EACH ROW
  UPDATE payment_credit SET amount = amount - NEW.amount WHERE payment_id = NEW.payment_id
-- next
CREATE OR REPLACE TRIGGER payment_credit_ends AFTER INSERT ON payment_reversal FOR EACH ROW
  UPDATE payment_credit SET amount = 0 WHERE payment_id = NEW.payment_id
