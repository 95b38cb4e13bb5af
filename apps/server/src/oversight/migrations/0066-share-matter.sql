-- The matter of each timekeeper's share of money that came: what was collected is told by matter, client, area and originating lawyer
-- from the shares alone, without a look at the bill of each. The database writes it; a share without its bill has no matter and is refused.
ALTER TABLE allocation_share ADD COLUMN IF NOT EXISTS matter_id INT UNSIGNED NULL
-- next
DROP TRIGGER IF EXISTS allocation_share_no_update
-- next
UPDATE allocation_share x JOIN allocation a ON a.id = x.allocation_id JOIN bill b ON b.id = a.bill_id SET x.matter_id = b.matter_id
-- next
CREATE OR REPLACE TRIGGER allocation_share_no_update BEFORE UPDATE ON allocation_share FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'allocation_share: what is posted is never changed; reverse or correct it';
-- next
CREATE OR REPLACE TRIGGER allocation_share_matter BEFORE INSERT ON allocation_share FOR EACH ROW
  SET NEW.matter_id = (SELECT b.matter_id FROM allocation a JOIN bill b ON b.id = a.bill_id WHERE a.id = NEW.allocation_id)
-- next
ALTER TABLE allocation_share
  MODIFY COLUMN matter_id INT UNSIGNED NOT NULL DEFAULT 0,
  DROP INDEX IF EXISTS allocation_share_day,
  ADD INDEX IF NOT EXISTS allocation_share_by_day (applied_on, timekeeper_id, matter_id, amount),
  ADD CONSTRAINT allocation_share_matter FOREIGN KEY IF NOT EXISTS (matter_id) REFERENCES matter (id)
