-- The day on which a duty was done, where it is met: what is counted from it runs from here.
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS met_on DATE NULL
-- next
-- A calendar's entries keep their address for ever, whatever the firm is called by then.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS calendar_domain VARCHAR(120) NOT NULL DEFAULT ''
-- next
-- A leave or departure ahead is planned, and takes effect on its day.
ALTER TABLE absence ADD COLUMN IF NOT EXISTS gives LONGTEXT NULL
-- next
ALTER TABLE absence ADD COLUMN IF NOT EXISTS begun_at DATETIME(6) NULL
-- next
UPDATE absence SET begun_at = made_at WHERE begun_at IS NULL AND gives IS NULL
-- next
-- A sheet that two people change: the second is told.
ALTER TABLE deposit_sheet ADD COLUMN IF NOT EXISTS version INT UNSIGNED NOT NULL DEFAULT 0
-- next
-- A check made while names were still being entered gives way to the next one of the same opening.
ALTER TABLE conflict_check ADD COLUMN IF NOT EXISTS superseded_by BIGINT UNSIGNED NULL
