-- The day on which a duty was done, where it is met: what is counted from it runs from here.
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS met_on DATE NULL
-- next
-- A calendar's entries keep their address for ever, whatever the firm is called by then.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS calendar_domain VARCHAR(120) NOT NULL DEFAULT ''
