-- Since when an entry stands on its day.
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS placed_on DATE NULL
-- next
UPDATE docket_entry SET placed_on = DATE(created_at) WHERE placed_on IS NULL
-- next
-- Court days before a date on which someone is reminded, as the person chose; without a row the usual ones. And the day of
-- the week (1 Monday to 7 Sunday) of the letter with the weeks ahead.
CREATE TABLE IF NOT EXISTS reminder_choice (
  user_id INT UNSIGNED NOT NULL PRIMARY KEY,
  leads VARCHAR(60) NULL,
  digest_on TINYINT UNSIGNED NULL,
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS entry_reminder_choice (
  entry_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  leads VARCHAR(60) NOT NULL,
  PRIMARY KEY (entry_id, user_id),
  FOREIGN KEY (entry_id) REFERENCES docket_entry (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- Reminders that went out: of each date, for each person and each time before it, once for the day on which the date stood.
CREATE TABLE IF NOT EXISTS docket_reminder (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  entry_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  lead SMALLINT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  seen BOOLEAN NOT NULL DEFAULT FALSE,
  UNIQUE (entry_id, user_id, day, lead),
  INDEX (user_id, seen, id),
  FOREIGN KEY (entry_id) REFERENCES docket_entry (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- Secret addresses of calendars. Only the hash of the secret is kept; a withdrawn one answers nothing.
CREATE TABLE IF NOT EXISTS calendar_feed (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  secret_hash CHAR(64) NOT NULL UNIQUE,
  owner_id INT UNSIGNED NOT NULL,
  scope ENUM('person','matter','area','firm') NOT NULL,
  user_id INT UNSIGNED NULL,
  matter_id INT UNSIGNED NULL,
  area_id INT UNSIGNED NULL,
  created_at DATETIME(6) NOT NULL,
  withdrawn_at DATETIME(6) NULL,
  INDEX (owner_id),
  FOREIGN KEY (owner_id) REFERENCES user_account (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (area_id) REFERENCES practice_area (id)
)
-- next
-- How often what calendars show of an entry has changed: the SEQUENCE of RFC 5545.
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS sequence INT UNSIGNED NOT NULL DEFAULT 0
-- next
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS changed_at DATETIME(6) NULL
-- next
CREATE OR REPLACE TRIGGER docket_entry_sequence BEFORE UPDATE ON docket_entry FOR EACH ROW
  IF NOT (NEW.day <=> OLD.day AND NEW.at_time <=> OLD.at_time AND NEW.length_minutes <=> OLD.length_minutes AND NEW.title <=> OLD.title AND NEW.place <=> OLD.place
      AND NEW.mark <=> OLD.mark AND NEW.left_out <=> OLD.left_out AND NEW.off_calendar <=> OLD.off_calendar AND NEW.removed_at <=> OLD.removed_at AND NEW.tentative <=> OLD.tentative) THEN
    SET NEW.sequence = OLD.sequence + 1, NEW.changed_at = UTC_TIMESTAMP(6);
  END IF
