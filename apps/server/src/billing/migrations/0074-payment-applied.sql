-- What of each document is applied, kept by a trigger and written by nothing else: whether one more line fits is then told by one row, and
-- not by adding up all that the document paid before, once for each of its lines. The row is locked as it is written, so two who apply the
-- same document at once are judged one after the other.
CREATE TABLE IF NOT EXISTS payment_applied (
  payment_id INT UNSIGNED NOT NULL PRIMARY KEY,
  amount BIGINT NOT NULL,
  FOREIGN KEY (payment_id) REFERENCES payment (id)
)
-- next
REPLACE INTO payment_applied (payment_id, amount) SELECT a.payment_id, SUM(a.amount) FROM allocation a GROUP BY a.payment_id
-- next
-- A line is never paid above its amount nor below nothing, and a document never pays more than it is, with what was done with its credit.
CREATE OR REPLACE TRIGGER allocation_fits BEFORE INSERT ON allocation FOR EACH ROW
BEGIN
  DECLARE on_line BIGINT DEFAULT 0;
  DECLARE of_payment BIGINT DEFAULT 0;
  SELECT COALESCE(SUM(a.amount), 0) + NEW.amount INTO on_line FROM allocation a WHERE a.bill_line_id = NEW.bill_line_id;
  IF on_line < 0 OR on_line > (SELECT l.net FROM bill_line l WHERE l.id = NEW.bill_line_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3110, MESSAGE_TEXT = 'allocation: a line is paid between nothing and its amount';
  END IF;
  INSERT INTO payment_applied (payment_id, amount) VALUES (NEW.payment_id, NEW.amount) ON DUPLICATE KEY UPDATE amount = amount + NEW.amount;
  SELECT x.amount INTO of_payment FROM payment_applied x WHERE x.payment_id = NEW.payment_id;
  IF of_payment < 0 OR of_payment + COALESCE((SELECT SUM(u.amount) FROM credit_use u WHERE u.payment_id = NEW.payment_id), 0) > (SELECT p.amount FROM payment p WHERE p.id = NEW.payment_id) THEN
    SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3110, MESSAGE_TEXT = 'allocation: a document pays no more than it is';
  END IF;
END
