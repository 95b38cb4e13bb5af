-- What a pre-bill comes to, kept with each change of it, so that lists of thousands need not add up their lines.
ALTER TABLE pre_bill
  ADD COLUMN IF NOT EXISTS total BIGINT NULL,
  ADD COLUMN IF NOT EXISTS line_count INT UNSIGNED NULL,
  ADD INDEX IF NOT EXISTS pre_bill_waiting (state, id)
-- next
-- Many pre-bills made, or many bills issued, in one act: each for itself, by a job that can be broken off and goes on.
CREATE TABLE IF NOT EXISTS bill_run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  what ENUM('make','issue') NOT NULL,
  -- Work up to that day is taken; or the day that the bills bear.
  day DATE NOT NULL,
  send BOOLEAN NOT NULL DEFAULT FALSE,
  user_id INT UNSIGNED NOT NULL,
  began_at DATETIME(6) NOT NULL,
  ended_at DATETIME(6) NULL,
  INDEX (user_id, id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS bill_run_item (
  run_id INT UNSIGNED NOT NULL,
  ordinal INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NOT NULL,
  pre_bill_id INT UNSIGNED NULL,
  state ENUM('waiting','done','refused') NOT NULL DEFAULT 'waiting',
  words VARCHAR(300) NOT NULL DEFAULT '',
  PRIMARY KEY (run_id, ordinal),
  INDEX (run_id, state),
  INDEX (matter_id),
  FOREIGN KEY (run_id) REFERENCES bill_run (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
)
-- next
-- What went out about a bill, to whom and when.
CREATE TABLE IF NOT EXISTS bill_sent (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bill_id INT UNSIGNED NOT NULL,
  kind VARCHAR(20) NOT NULL,
  at DATETIME(6) NOT NULL,
  name VARCHAR(200) NOT NULL,
  address VARCHAR(190) NOT NULL,
  mail_key VARCHAR(120) NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  INDEX (bill_id, id),
  FOREIGN KEY (bill_id) REFERENCES bill (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- The firm's own words for letters about bills; where there are none, those that ship.
CREATE TABLE IF NOT EXISTS bill_letter (
  kind VARCHAR(20) NOT NULL,
  language ENUM('en','es') NOT NULL,
  subject VARCHAR(200) NOT NULL,
  body TEXT NOT NULL,
  PRIMARY KEY (kind, language)
)
