-- The hours in which people work and their time zones; without one of their own, the firm's.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS zone VARCHAR(60) NOT NULL DEFAULT 'America/New_York'
-- next
ALTER TABLE user_account ADD COLUMN IF NOT EXISTS zone VARCHAR(60) NOT NULL DEFAULT ''
-- next
ALTER TABLE user_account ADD COLUMN IF NOT EXISTS work_from TIME NOT NULL DEFAULT '09:00'
-- next
ALTER TABLE user_account ADD COLUMN IF NOT EXISTS work_to TIME NOT NULL DEFAULT '17:30'
-- next
-- Who of the firm takes part in an appointment.
CREATE TABLE IF NOT EXISTS docket_attendee (
  entry_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (entry_id, user_id),
  INDEX (user_id, entry_id),
  FOREIGN KEY (entry_id) REFERENCES docket_entry (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- Those outside to whom an entry was sent, and as of which change of it.
CREATE TABLE IF NOT EXISTS docket_sent (
  entry_id INT UNSIGNED NOT NULL,
  email VARCHAR(190) NOT NULL,
  name VARCHAR(120) NOT NULL DEFAULT '',
  zone VARCHAR(60) NOT NULL,
  -- The number they were last sent, higher each time; and that of the entry itself then.
  sequence INT UNSIGNED NOT NULL,
  as_of INT UNSIGNED NOT NULL,
  sent_at DATETIME(6) NOT NULL,
  withdrawn_at DATETIME(6) NULL,
  PRIMARY KEY (entry_id, email),
  FOREIGN KEY (entry_id) REFERENCES docket_entry (id)
)
-- next
CREATE TABLE IF NOT EXISTS docket_entry_paper (
  entry_id INT UNSIGNED NOT NULL,
  paper_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (entry_id, paper_id),
  INDEX (paper_id),
  FOREIGN KEY (entry_id) REFERENCES docket_entry (id),
  FOREIGN KEY (paper_id) REFERENCES paper (id)
)
-- next
-- Dates that recur by a rule of RFC 5545. They are docketed as far as made_to, and further as time goes on.
CREATE TABLE IF NOT EXISTS docket_series (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  rule VARCHAR(120) NOT NULL,
  first_day DATE NOT NULL,
  body LONGTEXT NOT NULL,
  made_to DATE NOT NULL,
  ended_on DATE NULL,
  created_by INT UNSIGNED NOT NULL,
  INDEX (ended_on, made_to),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (created_by) REFERENCES user_account (id)
)
-- next
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS series_id INT UNSIGNED NULL
-- next
ALTER TABLE docket_entry ADD INDEX IF NOT EXISTS docket_entry_series (series_id, day)
-- next
-- The day of the series on which an entry of it stands, whatever day it was moved to; the notice of it stands before.
ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS recurs_on DATE NULL
-- next
CREATE OR REPLACE TRIGGER docket_entry_sequence BEFORE UPDATE ON docket_entry FOR EACH ROW
  IF NOT (NEW.day <=> OLD.day AND NEW.at_time <=> OLD.at_time AND NEW.length_minutes <=> OLD.length_minutes AND NEW.title <=> OLD.title AND NEW.place <=> OLD.place AND NEW.meeting_link <=> OLD.meeting_link
      AND NEW.mark <=> OLD.mark AND NEW.left_out <=> OLD.left_out AND NEW.off_calendar <=> OLD.off_calendar AND NEW.removed_at <=> OLD.removed_at AND NEW.tentative <=> OLD.tentative) THEN
    SET NEW.sequence = OLD.sequence + 1, NEW.changed_at = UTC_TIMESTAMP(6);
  END IF
-- next
-- What goes with a letter: a calendar message (RFC 5546), or a stored file.
ALTER TABLE mail ADD COLUMN IF NOT EXISTS calendar_method VARCHAR(10) NULL
-- next
ALTER TABLE mail ADD COLUMN IF NOT EXISTS calendar TEXT NULL
-- next
ALTER TABLE mail ADD COLUMN IF NOT EXISTS file_id INT UNSIGNED NULL
-- next
ALTER TABLE mail ADD COLUMN IF NOT EXISTS file_name VARCHAR(120) NULL
-- next
-- Reports that go out every week on a set day (1 Monday to 7 Sunday).
CREATE TABLE IF NOT EXISTS report_schedule (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  owner_id INT UNSIGNED NOT NULL,
  report LONGTEXT NOT NULL,
  words VARCHAR(300) NOT NULL,
  weekday TINYINT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  last_on DATE NULL,
  ended_at DATETIME(6) NULL,
  INDEX (weekday, ended_at),
  INDEX (owner_id),
  FOREIGN KEY (owner_id) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS report_schedule_to (
  schedule_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (schedule_id, user_id),
  FOREIGN KEY (schedule_id) REFERENCES report_schedule (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
