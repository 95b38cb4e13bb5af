-- How the firm's bills look beyond the letterhead; a bill keeps what held on its day.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS bill_group ENUM('none','person','day') NOT NULL DEFAULT 'none',
  ADD COLUMN IF NOT EXISTS bill_summary BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS bill_trust BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS bill_slip BOOLEAN NOT NULL DEFAULT FALSE
