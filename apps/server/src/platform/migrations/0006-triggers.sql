-- The client's name beside the matter, kept by triggers, so that a list of many thousands sorts by it from an index.
ALTER TABLE matter ADD COLUMN IF NOT EXISTS client_name VARCHAR(200) NOT NULL DEFAULT ''
-- next
UPDATE matter m JOIN contact c ON c.id = m.client_id SET m.client_name = c.name WHERE m.client_name = ''
-- next
CREATE INDEX IF NOT EXISTS matter_client_name ON matter (client_name, id)
-- next
CREATE INDEX IF NOT EXISTS matter_area_stage ON matter (area_id, stage_id, closed_on, staff_file)
-- next
CREATE OR REPLACE TRIGGER matter_client_name_made BEFORE INSERT ON matter FOR EACH ROW
  SET NEW.client_name = COALESCE((SELECT c.name FROM contact c WHERE c.id = NEW.client_id), '')
-- next
CREATE OR REPLACE TRIGGER matter_client_name_moved BEFORE UPDATE ON matter FOR EACH ROW
  IF NEW.client_id <> OLD.client_id THEN
    SET NEW.client_name = COALESCE((SELECT c.name FROM contact c WHERE c.id = NEW.client_id), '');
  END IF
-- next
CREATE OR REPLACE TRIGGER contact_renamed AFTER UPDATE ON contact FOR EACH ROW
  IF NEW.name <> OLD.name THEN
    UPDATE matter SET client_name = NEW.name WHERE client_id = NEW.id;
  END IF
-- next
-- The trace of a merge is never changed.
CREATE OR REPLACE TRIGGER contact_merge_no_update BEFORE UPDATE ON contact_merge FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'contact_merge: what is posted is never changed; reverse or correct it'
-- next
CREATE OR REPLACE TRIGGER contact_merge_no_delete BEFORE DELETE ON contact_merge FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MYSQL_ERRNO = 3100, MESSAGE_TEXT = 'contact_merge: what is posted is never changed; reverse or correct it'
