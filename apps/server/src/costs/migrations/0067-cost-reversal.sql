-- Which journal took a cost back: of what was owed and never paid, statements on paid money ask for its day.
ALTER TABLE cost_entry ADD COLUMN IF NOT EXISTS reversal_id BIGINT UNSIGNED NULL
-- next
UPDATE cost_entry k JOIN (SELECT j.subject_id, MAX(j.id) AS id FROM journal j WHERE j.subject = 'cost' AND j.kind = 'reversal' GROUP BY j.subject_id) r ON r.subject_id = k.id
   SET k.reversal_id = r.id WHERE k.state = 'reversed' AND k.reversal_id IS NULL
-- next
ALTER TABLE cost_entry ADD CONSTRAINT cost_reversal FOREIGN KEY IF NOT EXISTS (reversal_id) REFERENCES journal (id)
