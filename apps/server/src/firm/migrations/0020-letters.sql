-- From whom letters go out, and by which server; empty means the one on this machine that the application was started with.
ALTER TABLE firm
  ADD COLUMN IF NOT EXISTS mail_name VARCHAR(120) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS mail_address VARCHAR(190) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS mail_host VARCHAR(190) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS mail_port SMALLINT UNSIGNED NOT NULL DEFAULT 587,
  ADD COLUMN IF NOT EXISTS mail_security ENUM('none','starttls','tls') NOT NULL DEFAULT 'starttls',
  ADD COLUMN IF NOT EXISTS mail_user VARCHAR(190) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS mail_password VARCHAR(190) NOT NULL DEFAULT ''
-- next
-- Files that go with a letter, in their order.
CREATE TABLE IF NOT EXISTS mail_file (
  message_key VARCHAR(120) NOT NULL,
  ordinal TINYINT UNSIGNED NOT NULL,
  file_id BIGINT UNSIGNED NOT NULL,
  name VARCHAR(200) NOT NULL,
  PRIMARY KEY (message_key, ordinal),
  FOREIGN KEY (message_key) REFERENCES mail (message_key)
)
-- next
INSERT IGNORE INTO mail_file (message_key, ordinal, file_id, name) SELECT message_key, 1, file_id, COALESCE(file_name, 'file') FROM mail WHERE file_id IS NOT NULL
