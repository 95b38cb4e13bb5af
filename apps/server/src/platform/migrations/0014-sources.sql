-- The party that an event concerns, and the paper it comes of.
ALTER TABLE trigger_event ADD COLUMN IF NOT EXISTS party_id INT UNSIGNED NULL
-- next
ALTER TABLE trigger_event ADD COLUMN IF NOT EXISTS paper_id INT UNSIGNED NULL
-- next
-- A party that is taken off the matter leaves its name in the labels.
ALTER TABLE trigger_event ADD CONSTRAINT trigger_event_party FOREIGN KEY IF NOT EXISTS (party_id) REFERENCES matter_party (id) ON DELETE SET NULL
-- next
ALTER TABLE trigger_event ADD CONSTRAINT trigger_event_paper FOREIGN KEY IF NOT EXISTS (paper_id) REFERENCES paper (id)
