-- Folders that the firm's matters start with: for all areas, or for one besides.
CREATE TABLE IF NOT EXISTS standard_folder (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  area_id INT UNSIGNED NULL,
  path VARCHAR(300) NOT NULL,
  place SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  UNIQUE KEY standard_folder_path (area_id, path),
  FOREIGN KEY (area_id) REFERENCES practice_area (id)
)
-- next
INSERT INTO standard_folder (area_id, path, place)
  SELECT NULL, f.path, f.place FROM (
    SELECT 'Correspondence' AS path, 1 AS place UNION SELECT 'Pleadings', 2 UNION SELECT 'Discovery', 3 UNION SELECT 'Evidence', 4
    UNION SELECT 'Engagement', 5 UNION SELECT 'Bills', 6 UNION SELECT 'Notes', 7) f
  WHERE NOT EXISTS (SELECT 1 FROM standard_folder)
-- next
-- Folders made by hand on a matter; a folder is its path, and stands wherever a paper is in it.
CREATE TABLE IF NOT EXISTS paper_folder (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  path VARCHAR(300) NOT NULL,
  UNIQUE KEY paper_folder_path (matter_id, path),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
)
-- next
ALTER TABLE paper
  MODIFY COLUMN folder VARCHAR(300) NOT NULL,
  ADD COLUMN IF NOT EXISTS kind VARCHAR(60) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS author VARCHAR(120) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS paper_on DATE NULL,
  ADD COLUMN IF NOT EXISTS note VARCHAR(2000) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS version_no INT UNSIGNED NOT NULL DEFAULT 1,
  ADD COLUMN IF NOT EXISTS out_to INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS out_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS out_note VARCHAR(200) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS deleted_by INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS text_state ENUM('waiting','done','none','failed') NOT NULL DEFAULT 'waiting',
  ADD COLUMN IF NOT EXISTS row_version INT UNSIGNED NOT NULL DEFAULT 1,
  ADD INDEX IF NOT EXISTS paper_of_matter (matter_id, deleted_at, created_at, id),
  ADD INDEX IF NOT EXISTS paper_in_folder (matter_id, folder),
  ADD INDEX IF NOT EXISTS paper_out (out_to),
  ADD INDEX IF NOT EXISTS paper_newest (deleted_at, created_at, id)
-- next
CREATE TABLE IF NOT EXISTS paper_version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  paper_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  file_id BIGINT UNSIGNED NOT NULL,
  pdf_file_id BIGINT UNSIGNED NULL,
  pdf_job_id BIGINT UNSIGNED NULL,
  why VARCHAR(300) NOT NULL DEFAULT '',
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  template_version_id INT UNSIGNED NULL,
  made_with LONGTEXT NULL,
  UNIQUE KEY paper_version_number (paper_id, number),
  KEY paper_version_file (file_id),
  FOREIGN KEY (paper_id) REFERENCES paper (id),
  FOREIGN KEY (file_id) REFERENCES stored_file (id),
  FOREIGN KEY (pdf_file_id) REFERENCES stored_file (id),
  FOREIGN KEY (made_by) REFERENCES user_account (id)
)
-- next
INSERT INTO paper_version (paper_id, number, file_id, made_by, made_at, made_with)
  SELECT p.id, 1, p.file_id, p.created_by, p.created_at, NULL FROM paper p
   WHERE NOT EXISTS (SELECT 1 FROM paper_version v WHERE v.paper_id = p.id)
-- next
CREATE TABLE IF NOT EXISTS paper_tag (
  paper_id INT UNSIGNED NOT NULL,
  tag VARCHAR(40) NOT NULL,
  PRIMARY KEY (paper_id, tag),
  KEY paper_tag_word (tag),
  FOREIGN KEY (paper_id) REFERENCES paper (id)
)
-- next
-- The words of the current version of each paper, for finding. `scope` is the matter as one word, so that words are found within it.
CREATE TABLE IF NOT EXISTS paper_text (
  paper_id INT UNSIGNED NOT NULL PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  version_no INT UNSIGNED NOT NULL,
  body MEDIUMTEXT NOT NULL,
  KEY paper_text_matter (matter_id),
  FULLTEXT KEY paper_text_words (body),
  FOREIGN KEY (paper_id) REFERENCES paper (id)
)
-- next
-- Files on their way in, in pieces; what is whole becomes a stored file.
CREATE TABLE IF NOT EXISTS upload (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NULL,
  link_id INT UNSIGNED NULL,
  secret CHAR(32) NOT NULL,
  name VARCHAR(200) NOT NULL,
  size BIGINT UNSIGNED NOT NULL,
  received BIGINT UNSIGNED NOT NULL DEFAULT 0,
  file_id BIGINT UNSIGNED NULL,
  made_at DATETIME(6) NOT NULL,
  KEY upload_made (made_at),
  FOREIGN KEY (user_id) REFERENCES user_account (id),
  FOREIGN KEY (file_id) REFERENCES stored_file (id)
)
-- next
-- E-mail that is to be filed: dropped by someone, or come to the firm's address for filing.
CREATE TABLE IF NOT EXISTS mail_in (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  file_id BIGINT UNSIGNED NOT NULL,
  source ENUM('dropped','address') NOT NULL,
  user_id INT UNSIGNED NULL,
  sent_by VARCHAR(190) NOT NULL DEFAULT '',
  from_text VARCHAR(300) NOT NULL DEFAULT '',
  subject VARCHAR(500) NOT NULL DEFAULT '',
  message_id VARCHAR(250) NULL,
  inner_id VARCHAR(250) NULL,
  dated DATE NULL,
  summary LONGTEXT NOT NULL,
  state ENUM('waiting','filed','put aside') NOT NULL DEFAULT 'waiting',
  come_at DATETIME(6) NOT NULL,
  done_at DATETIME(6) NULL,
  done_by INT UNSIGNED NULL,
  KEY mail_in_tray (state, user_id, come_at),
  KEY mail_in_message (message_id),
  FOREIGN KEY (file_id) REFERENCES stored_file (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
-- Messages on file, by the ids by which they are known again: their own, those within them, and the hash of those without one.
CREATE TABLE IF NOT EXISTS filed_message (
  paper_id INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NOT NULL,
  message_id VARCHAR(250) NOT NULL,
  PRIMARY KEY (paper_id, message_id),
  KEY filed_message_known (message_id, matter_id),
  FOREIGN KEY (paper_id) REFERENCES paper (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
)
-- next
-- Papers that came as parts of a message.
CREATE TABLE IF NOT EXISTS paper_of_mail (
  paper_id INT UNSIGNED NOT NULL PRIMARY KEY,
  mail_paper_id INT UNSIGNED NOT NULL,
  KEY paper_of_mail_of (mail_paper_id),
  FOREIGN KEY (paper_id) REFERENCES paper (id),
  FOREIGN KEY (mail_paper_id) REFERENCES paper (id)
)
-- next
-- What someone outside may see by a secret address. Of the address only its hash is kept.
CREATE TABLE IF NOT EXISTS paper_link (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  token_hash CHAR(64) NOT NULL,
  for_whom VARCHAR(120) NOT NULL,
  email VARCHAR(190) NOT NULL DEFAULT '',
  message VARCHAR(1000) NOT NULL DEFAULT '',
  needs_code TINYINT NOT NULL DEFAULT 0,
  may_upload TINYINT NOT NULL DEFAULT 0,
  upload_folder VARCHAR(300) NOT NULL DEFAULT '',
  folder VARCHAR(300) NULL,
  ends_on DATE NOT NULL,
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  withdrawn_at DATETIME(6) NULL,
  code_hash CHAR(64) NULL,
  code_until DATETIME(6) NULL,
  code_tries TINYINT UNSIGNED NOT NULL DEFAULT 0,
  pass_hash CHAR(64) NULL,
  UNIQUE KEY paper_link_token (token_hash),
  KEY paper_link_matter (matter_id, made_at),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (made_by) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS paper_link_item (
  link_id INT UNSIGNED NOT NULL,
  paper_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (link_id, paper_id),
  KEY paper_link_item_paper (paper_id),
  FOREIGN KEY (link_id) REFERENCES paper_link (id),
  FOREIGN KEY (paper_id) REFERENCES paper (id)
)
-- next
CREATE TABLE IF NOT EXISTS paper_link_visit (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  link_id INT UNSIGNED NOT NULL,
  paper_id INT UNSIGNED NULL,
  what ENUM('opened','read','sent') NOT NULL,
  at DATETIME(6) NOT NULL,
  address VARCHAR(60) NOT NULL DEFAULT '',
  KEY paper_link_visit_of (link_id, at),
  FOREIGN KEY (link_id) REFERENCES paper_link (id)
)
-- next
ALTER TABLE template
  MODIFY COLUMN folder VARCHAR(300) NOT NULL DEFAULT 'Correspondence',
  ADD COLUMN IF NOT EXISTS shelf VARCHAR(120) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS area_id INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS tags VARCHAR(300) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS language ENUM('en','es') NOT NULL DEFAULT 'en',
  ADD COLUMN IF NOT EXISTS name_pattern VARCHAR(200) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS needs_person TINYINT NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS for_all TINYINT NOT NULL DEFAULT 1,
  ADD COLUMN IF NOT EXISTS version_no INT UNSIGNED NOT NULL DEFAULT 1,
  ADD COLUMN IF NOT EXISTS retired_at DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS row_version INT UNSIGNED NOT NULL DEFAULT 1,
  ADD CONSTRAINT template_area FOREIGN KEY IF NOT EXISTS (area_id) REFERENCES practice_area (id)
-- next
CREATE TABLE IF NOT EXISTS template_version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  template_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  file_id BIGINT UNSIGNED NOT NULL,
  why VARCHAR(300) NOT NULL DEFAULT '',
  made_by INT UNSIGNED NULL,
  made_at DATETIME(6) NOT NULL,
  faults LONGTEXT NOT NULL,
  uses LONGTEXT NOT NULL,
  ties LONGTEXT NOT NULL,
  questions LONGTEXT NOT NULL,
  checked_with CHAR(64) NOT NULL DEFAULT '',
  UNIQUE KEY template_version_number (template_id, number),
  FOREIGN KEY (template_id) REFERENCES template (id),
  FOREIGN KEY (file_id) REFERENCES stored_file (id)
)
-- next
INSERT INTO template_version (template_id, number, file_id, made_at, faults, uses, ties, questions)
  SELECT t.id, 1, t.file_id, UTC_TIMESTAMP(6), '[]', '[]', '{}', '[]' FROM template t
   WHERE NOT EXISTS (SELECT 1 FROM template_version v WHERE v.template_id = t.id)
-- next
CREATE TABLE IF NOT EXISTS template_person (
  template_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (template_id, user_id),
  FOREIGN KEY (template_id) REFERENCES template (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
-- next
CREATE TABLE IF NOT EXISTS template_set (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  description VARCHAR(400) NOT NULL DEFAULT '',
  UNIQUE KEY template_set_name (name)
)
-- next
CREATE TABLE IF NOT EXISTS template_set_item (
  set_id INT UNSIGNED NOT NULL,
  template_id INT UNSIGNED NOT NULL,
  place SMALLINT UNSIGNED NOT NULL,
  PRIMARY KEY (set_id, template_id),
  FOREIGN KEY (set_id) REFERENCES template_set (id),
  FOREIGN KEY (template_id) REFERENCES template (id)
)
-- next
-- A draft that a colleague is asked to read.
CREATE TABLE IF NOT EXISTS paper_review (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  paper_id INT UNSIGNED NOT NULL,
  version_no INT UNSIGNED NOT NULL,
  from_id INT UNSIGNED NOT NULL,
  to_id INT UNSIGNED NOT NULL,
  due_on DATE NULL,
  message VARCHAR(1000) NOT NULL DEFAULT '',
  state ENUM('asked','approved','sent back','withdrawn') NOT NULL DEFAULT 'asked',
  remarks VARCHAR(4000) NOT NULL DEFAULT '',
  asked_at DATETIME(6) NOT NULL,
  answered_at DATETIME(6) NULL,
  KEY paper_review_of (paper_id, asked_at),
  KEY paper_review_to (to_id, state),
  FOREIGN KEY (paper_id) REFERENCES paper (id),
  FOREIGN KEY (from_id) REFERENCES user_account (id),
  FOREIGN KEY (to_id) REFERENCES user_account (id)
)
-- next
-- What is written before a paper is kept: previews, thrown away after a day.
CREATE TABLE IF NOT EXISTS paper_preview (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NOT NULL,
  file_id BIGINT UNSIGNED NULL,
  made_at DATETIME(6) NOT NULL,
  KEY paper_preview_made (made_at),
  FOREIGN KEY (user_id) REFERENCES user_account (id),
  FOREIGN KEY (file_id) REFERENCES stored_file (id)
)
-- next
ALTER TABLE contact ADD COLUMN IF NOT EXISTS pronouns VARCHAR(40) NOT NULL DEFAULT ''
-- next
ALTER TABLE firm ADD COLUMN IF NOT EXISTS filing_address VARCHAR(190) NOT NULL DEFAULT ''
