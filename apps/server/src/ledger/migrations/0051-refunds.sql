-- A payment that gives a deposit back to whoever made it.
ALTER TABLE payment_out ADD COLUMN IF NOT EXISTS refund_of INT UNSIGNED NULL, ADD INDEX IF NOT EXISTS payment_refunds (refund_of)
