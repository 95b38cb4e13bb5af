-- How near in days a movement of the bank may lie to the book's, and whether checks go to print as soon as they are posted.
ALTER TABLE bank_account ADD COLUMN IF NOT EXISTS near_days TINYINT UNSIGNED NOT NULL DEFAULT 5,
  ADD COLUMN IF NOT EXISTS print_at_once BOOLEAN NOT NULL DEFAULT FALSE
