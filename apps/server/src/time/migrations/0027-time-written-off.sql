-- Unbilled time that is written off stays on record as worked, and is never billed.
ALTER TABLE time_entry MODIFY COLUMN state ENUM('draft','posted','reversed','written off') NOT NULL DEFAULT 'draft'
