ALTER TABLE docket_entry ADD COLUMN IF NOT EXISTS meeting_link VARCHAR(300) NOT NULL DEFAULT ''
-- next
CREATE TABLE IF NOT EXISTS docket_entry_tag (
  entry_id INT UNSIGNED NOT NULL,
  tag VARCHAR(40) NOT NULL,
  PRIMARY KEY (entry_id, tag),
  INDEX (tag, entry_id),
  FOREIGN KEY (entry_id) REFERENCES docket_entry (id)
)
