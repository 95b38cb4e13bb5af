-- What is paid by link is paid by card or by a debit of a bank account.
ALTER TABLE card_charge ADD COLUMN IF NOT EXISTS method ENUM('card','bank') NOT NULL DEFAULT 'card'
