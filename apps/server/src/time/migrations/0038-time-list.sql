-- The list of all time reads by day, newest first.
ALTER TABLE time_entry ADD INDEX IF NOT EXISTS time_entry_day (day)
-- next
-- Words that the spelling checker takes for right, as they are written.
CREATE TABLE IF NOT EXISTS spelling_word (word VARCHAR(60) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL PRIMARY KEY)
