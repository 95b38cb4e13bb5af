-- Reminders that go out by themselves, in the name of whoever said so; and the last day on which they did.
ALTER TABLE firm
  ADD COLUMN IF NOT EXISTS remind_by INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS reminded_on DATE NULL
