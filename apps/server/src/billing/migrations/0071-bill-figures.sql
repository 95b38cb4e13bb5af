-- What each bill leaves open, kept as bills are issued and settled and written by nothing else, with what lists of bills are ordered and
-- narrowed by: a bill never changes, so these are copies for good.
CREATE TABLE IF NOT EXISTS bill_figure (
  bill_id INT UNSIGNED NOT NULL PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  payer_id INT UNSIGNED NOT NULL,
  issued_on DATE NOT NULL,
  due_on DATE NOT NULL,
  open_amount BIGINT NOT NULL,
  is_open BOOLEAN NOT NULL,
  INDEX bill_figure_issued (issued_on, bill_id),
  INDEX bill_figure_open_issued (is_open, issued_on, bill_id),
  INDEX bill_figure_open_due (is_open, due_on, bill_id),
  INDEX bill_figure_matter (matter_id, is_open, due_on, open_amount),
  INDEX bill_figure_payer (payer_id, is_open, due_on),
  FOREIGN KEY (bill_id) REFERENCES bill (id)
)
-- next
INSERT IGNORE INTO bill_figure (bill_id, matter_id, payer_id, issued_on, due_on, open_amount, is_open)
  SELECT b.id, b.matter_id, b.payer_id, b.issued_on, b.due_on, b.total - COALESCE(a.amount, 0), b.total <> COALESCE(a.amount, 0)
    FROM bill b LEFT JOIN (SELECT bill_id, SUM(amount) AS amount FROM allocation GROUP BY bill_id) a ON a.bill_id = b.id
-- next
CREATE OR REPLACE TRIGGER bill_stands AFTER INSERT ON bill FOR EACH ROW
  INSERT INTO bill_figure (bill_id, matter_id, payer_id, issued_on, due_on, open_amount, is_open)
    VALUES (NEW.id, NEW.matter_id, NEW.payer_id, NEW.issued_on, NEW.due_on, NEW.total, NEW.total <> 0)
-- next
-- Set from left to right: whether it is open is told by what was open before.
CREATE OR REPLACE TRIGGER allocation_stands AFTER INSERT ON allocation FOR EACH ROW
  UPDATE bill_figure SET is_open = open_amount <> NEW.amount, open_amount = open_amount - NEW.amount WHERE bill_id = NEW.bill_id
