-- How the bills of a matter or a client are made, by which numbers the client knows itself and the matter, and what it is to cost.
ALTER TABLE bill_terms
  ADD COLUMN IF NOT EXISTS format ENUM('pdf','ledes') NULL,
  ADD COLUMN IF NOT EXISTS their_number VARCHAR(20) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS budget BIGINT NULL CHECK (budget BETWEEN 1 AND 100000000000),
  ADD COLUMN IF NOT EXISTS capped BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS warn_at VARCHAR(40) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS warn_ids VARCHAR(300) NOT NULL DEFAULT ''
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS tax_number VARCHAR(20) NOT NULL DEFAULT ''
-- next
ALTER TABLE time_entry ADD COLUMN IF NOT EXISTS task VARCHAR(8) NULL
