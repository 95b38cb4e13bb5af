-- Journals that are entered again and again: as a beginning, or by themselves on a date of the month.
CREATE TABLE IF NOT EXISTS journal_template (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL UNIQUE,
  memo VARCHAR(300) NOT NULL,
  line_list LONGTEXT NOT NULL,
  day_of_month TINYINT UNSIGNED NULL CHECK (day_of_month BETWEEN 1 AND 31),
  every_months TINYINT UNSIGNED NULL CHECK (every_months BETWEEN 1 AND 12),
  next_on DATE NULL,
  until DATE NULL,
  fault VARCHAR(300) NOT NULL DEFAULT '',
  made_by INT UNSIGNED NOT NULL,
  INDEX (next_on),
  FOREIGN KEY (made_by) REFERENCES user_account (id)
)
