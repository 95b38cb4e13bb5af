-- The last day of the firm's week, 1 Monday to 7 Sunday.
ALTER TABLE firm ADD COLUMN IF NOT EXISTS week_ends TINYINT UNSIGNED NOT NULL DEFAULT 5 CHECK (week_ends BETWEEN 1 AND 7)
-- next
-- What a timekeeper is to reach, and what an hour of theirs costs the firm, from a day on.
CREATE TABLE IF NOT EXISTS timekeeper_goal (
  user_id INT UNSIGNED NOT NULL,
  from_day DATE NOT NULL,
  basis ENUM('billable','collected') NOT NULL,
  weekly BIGINT NULL CHECK (weekly >= 0),
  monthly BIGINT NULL CHECK (monthly >= 0),
  cost_rate BIGINT NULL CHECK (cost_rate >= 0),
  PRIMARY KEY (user_id, from_day),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- How recorded time moved, written by triggers alone: what a week comes to now less what moved since a moment is what it came to then.
CREATE TABLE IF NOT EXISTS time_moved (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(6) NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  minutes INT NOT NULL,
  worth BIGINT NOT NULL,
  INDEX time_moved_since (day, at, user_id, matter_id, minutes, worth)
)
-- next
CREATE OR REPLACE TRIGGER time_entry_moved_in AFTER INSERT ON time_entry FOR EACH ROW
BEGIN
  IF NEW.state <> 'reversed' THEN
    INSERT INTO time_moved (at, user_id, matter_id, day, minutes, worth)
      VALUES (UTC_TIMESTAMP(6), NEW.user_id, NEW.matter_id, NEW.day, NEW.minutes, IF(NEW.charge = 'billable', NEW.amount, 0));
  END IF;
END
-- next
CREATE OR REPLACE TRIGGER time_entry_moved AFTER UPDATE ON time_entry FOR EACH ROW
BEGIN
  IF NOT (NEW.user_id = OLD.user_id AND NEW.matter_id = OLD.matter_id AND NEW.day = OLD.day AND NEW.minutes = OLD.minutes
          AND NEW.amount = OLD.amount AND NEW.charge = OLD.charge AND (NEW.state = 'reversed') = (OLD.state = 'reversed')) THEN
    IF OLD.state <> 'reversed' THEN
      INSERT INTO time_moved (at, user_id, matter_id, day, minutes, worth)
        VALUES (UTC_TIMESTAMP(6), OLD.user_id, OLD.matter_id, OLD.day, -CAST(OLD.minutes AS SIGNED), -IF(OLD.charge = 'billable', OLD.amount, 0));
    END IF;
    IF NEW.state <> 'reversed' THEN
      INSERT INTO time_moved (at, user_id, matter_id, day, minutes, worth)
        VALUES (UTC_TIMESTAMP(6), NEW.user_id, NEW.matter_id, NEW.day, NEW.minutes, IF(NEW.charge = 'billable', NEW.amount, 0));
    END IF;
  END IF;
END
-- next
CREATE OR REPLACE TRIGGER time_entry_moved_out AFTER DELETE ON time_entry FOR EACH ROW
BEGIN
  IF OLD.state <> 'reversed' THEN
    INSERT INTO time_moved (at, user_id, matter_id, day, minutes, worth)
      VALUES (UTC_TIMESTAMP(6), OLD.user_id, OLD.matter_id, OLD.day, -CAST(OLD.minutes AS SIGNED), -IF(OLD.charge = 'billable', OLD.amount, 0));
  END IF;
END
-- next
-- When someone last looked at the weeks: what was recorded later into weeks that were over by then stands marked.
CREATE TABLE IF NOT EXISTS oversight_look (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  day DATE NOT NULL,
  told_at DATETIME(6) NOT NULL,
  INDEX (user_id, id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- Reports that go out by themselves, each to whom with their own figures.
CREATE TABLE IF NOT EXISTS oversight_schedule (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  what VARCHAR(20) NOT NULL,
  asked VARCHAR(1000) NOT NULL,
  every ENUM('week','month') NOT NULL,
  on_day TINYINT UNSIGNED NOT NULL CHECK (on_day BETWEEN 1 AND 31),
  format ENUM('xlsx','pdf','csv') NOT NULL,
  made_by INT UNSIGNED NOT NULL,
  sent_on DATE NULL,
  FOREIGN KEY (made_by) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS oversight_schedule_to (
  schedule_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (schedule_id, user_id),
  FOREIGN KEY (schedule_id) REFERENCES oversight_schedule (id) ON DELETE CASCADE,
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- Reports go by the day of the work, of the bill, and of the payment.
ALTER TABLE bill_line ADD INDEX IF NOT EXISTS bill_line_work (kind, day)
-- next
ALTER TABLE bill ADD INDEX IF NOT EXISTS bill_work_to (work_to)
-- next
ALTER TABLE allocation ADD INDEX IF NOT EXISTS allocation_day (applied_on)
-- next
ALTER TABLE allocation_share ADD INDEX IF NOT EXISTS allocation_share_day (applied_on, timekeeper_id, amount)
-- next
ALTER TABLE time_entry ADD INDEX IF NOT EXISTS time_entry_sums (day, user_id, matter_id, minutes, amount, charge, state)
-- next
-- What the bills of a matter leave open together, kept as bills are issued and settled.
ALTER TABLE matter_figure ADD COLUMN IF NOT EXISTS owed BIGINT NOT NULL DEFAULT 0, ADD INDEX IF NOT EXISTS matter_figure_owed (owed, matter_id)
-- next
INSERT INTO matter_figure (matter_id, owed)
  SELECT b.matter_id, SUM(b.total - COALESCE((SELECT SUM(a.amount) FROM allocation a WHERE a.bill_id = b.id), 0)) FROM bill b GROUP BY b.matter_id
  ON DUPLICATE KEY UPDATE owed = VALUES(owed)
-- next
CREATE OR REPLACE TRIGGER bill_owed AFTER INSERT ON bill FOR EACH ROW
  INSERT INTO matter_figure (matter_id, owed) VALUES (NEW.matter_id, NEW.total) ON DUPLICATE KEY UPDATE owed = owed + NEW.total
-- next
CREATE OR REPLACE TRIGGER allocation_owed AFTER INSERT ON allocation FOR EACH ROW
  UPDATE matter_figure f JOIN bill b ON b.id = NEW.bill_id SET f.owed = f.owed - NEW.amount WHERE f.matter_id = b.matter_id
