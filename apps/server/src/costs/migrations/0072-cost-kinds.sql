-- Whether a kind was ever used is asked with every list of kinds.
ALTER TABLE cost_entry ADD INDEX IF NOT EXISTS cost_by_kind (kind_id)
