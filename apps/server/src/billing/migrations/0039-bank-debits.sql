-- What is paid by link is paid by card or by a debit of a bank account.
ALTER TABLE card_charge ADD COLUMN IF NOT EXISTS method ENUM('card','bank') NOT NULL DEFAULT 'card'
-- next
-- Lines of work may stand under their activities.
ALTER TABLE firm MODIFY COLUMN bill_group ENUM('none','person','day','activity') NOT NULL DEFAULT 'none'
