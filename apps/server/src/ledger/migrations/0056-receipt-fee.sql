-- What a jurisdiction levies on money received in trust: how much for each receipt, and to whom the firm owes it (to nobody: the firm's own).
ALTER TABLE firm
  ADD COLUMN IF NOT EXISTS receipt_fee BIGINT NOT NULL DEFAULT 0 CHECK (receipt_fee BETWEEN 0 AND 100000),
  ADD COLUMN IF NOT EXISTS receipt_fee_to VARCHAR(160) NOT NULL DEFAULT ''
-- next
-- What is charged to the matter when the receipt is posted.
ALTER TABLE deposit_receipt ADD COLUMN IF NOT EXISTS fee BIGINT NOT NULL DEFAULT 0 CHECK (fee BETWEEN 0 AND 100000)
-- next
ALTER TABLE cost_entry
  ADD COLUMN IF NOT EXISTS deposit_receipt_id INT UNSIGNED NULL,
  ADD INDEX IF NOT EXISTS cost_of_receipt (deposit_receipt_id)
-- next
ALTER TABLE import_run MODIFY COLUMN what ENUM('contacts','matters','costs','opening','chart') NOT NULL
