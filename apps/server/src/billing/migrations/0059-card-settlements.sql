-- Which settlement of the processor brought the money of a charge, also where that is told before the charge is known to be paid.
ALTER TABLE card_charge ADD COLUMN IF NOT EXISTS settlement VARCHAR(60) NULL
