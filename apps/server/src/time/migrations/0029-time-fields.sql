-- Everything that may be said of an entry; what a firm does not use stands as if it were not there.
ALTER TABLE time_entry
  MODIFY COLUMN minutes SMALLINT UNSIGNED NOT NULL,
  ADD COLUMN IF NOT EXISTS in_court BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS funding_id INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS private_attorney BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS started_at CHAR(5) NULL,
  ADD COLUMN IF NOT EXISTS ended_at CHAR(5) NULL,
  ADD CONSTRAINT IF NOT EXISTS time_entry_has_time CHECK (minutes > 0 OR rate_origin = 'amount')
-- next
-- Who pays for the work of a clinic, and on which days work may be put to it.
CREATE TABLE IF NOT EXISTS funding_source (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL UNIQUE,
  from_day DATE NULL,
  to_day DATE NULL,
  retired BOOLEAN NOT NULL DEFAULT FALSE
)
-- next
ALTER TABLE time_terms ADD COLUMN IF NOT EXISTS funding_id INT UNSIGNED NULL
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS time_fields VARCHAR(200) NOT NULL DEFAULT 'activity,times,amount,note'
-- next
-- Wordings that are typed again and again: the firm's, and each person's own.
CREATE TABLE IF NOT EXISTS phrase (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NULL,
  code VARCHAR(12) NOT NULL,
  text VARCHAR(1000) NOT NULL,
  INDEX (user_id, code),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
