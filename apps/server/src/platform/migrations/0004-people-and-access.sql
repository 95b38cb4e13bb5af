-- People in full: other names, several ways to reach, relations, private ones, what the firm asks of them
ALTER TABLE contact ADD COLUMN IF NOT EXISTS birth_date DATE NULL;
ALTER TABLE contact ADD COLUMN IF NOT EXISTS language VARCHAR(20) NOT NULL DEFAULT '';
ALTER TABLE contact ADD COLUMN IF NOT EXISTS tax_number VARCHAR(40) NOT NULL DEFAULT '';
ALTER TABLE contact ADD COLUMN IF NOT EXISTS uid CHAR(36) NULL;
ALTER TABLE contact ADD COLUMN IF NOT EXISTS merged_into INT UNSIGNED NULL;
ALTER TABLE contact ADD COLUMN IF NOT EXISTS version INT UNSIGNED NOT NULL DEFAULT 1;
UPDATE contact SET uid = UUID() WHERE uid IS NULL;
CREATE UNIQUE INDEX IF NOT EXISTS contact_uid ON contact (uid);
CREATE INDEX IF NOT EXISTS contact_merged ON contact (merged_into);
CREATE TABLE IF NOT EXISTS contact_alias (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  contact_id INT UNSIGNED NOT NULL,
  kind ENUM('former name','nickname','trading name','also known as') NOT NULL,
  name VARCHAR(200) NOT NULL,
  UNIQUE (contact_id, kind, name),
  FOREIGN KEY (contact_id) REFERENCES contact (id)
);
CREATE TABLE IF NOT EXISTS contact_reach (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  contact_id INT UNSIGNED NOT NULL,
  ordinal SMALLINT NOT NULL,
  what ENUM('e-mail','phone','address','tax number') NOT NULL,
  label VARCHAR(40) NOT NULL DEFAULT '',
  value VARCHAR(400) NOT NULL,
  normalized VARCHAR(190) NOT NULL,
  UNIQUE (contact_id, ordinal),
  INDEX (what, normalized),
  FOREIGN KEY (contact_id) REFERENCES contact (id)
);
INSERT INTO contact_reach (contact_id, ordinal, what, label, value, normalized)
  SELECT id, 1, 'e-mail', 'work', email, LOWER(email) FROM contact c WHERE email <> '' AND NOT EXISTS (SELECT 1 FROM contact_reach r WHERE r.contact_id = c.id AND r.ordinal = 1);
INSERT INTO contact_reach (contact_id, ordinal, what, label, value, normalized)
  SELECT id, 2, 'phone', 'work', phone, RIGHT(REGEXP_REPLACE(phone, '[^0-9]', ''), 10) FROM contact c WHERE phone <> '' AND NOT EXISTS (SELECT 1 FROM contact_reach r WHERE r.contact_id = c.id AND r.ordinal = 2);
INSERT INTO contact_reach (contact_id, ordinal, what, label, value, normalized)
  SELECT id, 3, 'address', 'mail', address, LOWER(LEFT(address, 190)) FROM contact c WHERE address <> '' AND NOT EXISTS (SELECT 1 FROM contact_reach r WHERE r.contact_id = c.id AND r.ordinal = 3);
CREATE TABLE IF NOT EXISTS contact_relation (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  from_id INT UNSIGNED NOT NULL,
  to_id INT UNSIGNED NOT NULL,
  kind VARCHAR(30) NOT NULL,
  title VARCHAR(120) NOT NULL DEFAULT '',
  UNIQUE (from_id, to_id, kind),
  INDEX (to_id),
  CHECK (from_id <> to_id),
  FOREIGN KEY (from_id) REFERENCES contact (id),
  FOREIGN KEY (to_id) REFERENCES contact (id)
);
CREATE TABLE IF NOT EXISTS contact_kind_listed (
  kind VARCHAR(40) NOT NULL PRIMARY KEY,
  ordinal SMALLINT NOT NULL DEFAULT 0
);
INSERT IGNORE INTO contact_kind_listed (kind, ordinal) VALUES ('client', 1), ('prospective client', 2), ('opposing party', 3), ('opposing counsel', 4), ('co-counsel', 5), ('judge', 6),
  ('court staff', 7), ('court reporter', 8), ('interpreter', 9), ('expert', 10), ('witness', 11), ('medical provider', 12), ('vendor', 13), ('payee', 14), ('insurer', 15);
CREATE TABLE IF NOT EXISTS contact_merge (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kept_id INT UNSIGNED NOT NULL,
  merged_id INT UNSIGNED NOT NULL,
  merged_by INT UNSIGNED NOT NULL,
  merged_at DATETIME(6) NOT NULL,
  moved LONGTEXT NOT NULL,
  INDEX (kept_id),
  FOREIGN KEY (kept_id) REFERENCES contact (id),
  FOREIGN KEY (merged_id) REFERENCES contact (id)
);
CREATE TABLE IF NOT EXISTS enquiry (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  contact_id INT UNSIGNED NOT NULL,
  about TEXT NOT NULL DEFAULT '',
  adverse LONGTEXT NOT NULL DEFAULT '[]',
  source VARCHAR(120) NOT NULL DEFAULT '',
  next_step VARCHAR(200) NOT NULL DEFAULT '',
  next_on DATE NULL,
  consult_on DATE NULL,
  consult_at TIME NULL,
  consult_minutes SMALLINT NULL,
  consult_fee BIGINT NULL CHECK (consult_fee IS NULL OR consult_fee >= 0),
  area_id INT UNSIGNED NULL,
  state ENUM('open','matter','declined') NOT NULL DEFAULT 'open',
  reason VARCHAR(400) NOT NULL DEFAULT '',
  matter_id INT UNSIGNED NULL,
  conflict_check_id BIGINT UNSIGNED NULL,
  owner_id INT UNSIGNED NOT NULL,
  taken_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  settled_at DATETIME(6) NULL,
  INDEX (state, next_on),
  INDEX (contact_id),
  FOREIGN KEY (contact_id) REFERENCES contact (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (area_id) REFERENCES practice_area (id),
  FOREIGN KEY (owner_id) REFERENCES user_account (id)
);

-- Names on record for conflict checks: every name of every contact, and those an enquiry was against
CREATE TABLE IF NOT EXISTS recorded_name (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  contact_id INT UNSIGNED NULL,
  enquiry_id INT UNSIGNED NULL,
  what VARCHAR(24) NOT NULL,
  name VARCHAR(200) NOT NULL,
  normalized VARCHAR(200) NOT NULL,
  INDEX (contact_id),
  INDEX (enquiry_id),
  INDEX (normalized)
);
CREATE TABLE IF NOT EXISTS name_word (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  word VARCHAR(40) COLLATE utf8mb4_bin NOT NULL UNIQUE,
  sound VARCHAR(12) COLLATE utf8mb4_bin NOT NULL DEFAULT '',
  other_sound VARCHAR(12) COLLATE utf8mb4_bin NOT NULL DEFAULT '',
  INDEX (sound),
  INDEX (other_sound)
);
CREATE TABLE IF NOT EXISTS name_spelling (
  spelling VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
  word_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (spelling, word_id)
);
CREATE TABLE IF NOT EXISTS name_posting (
  word_id INT UNSIGNED NOT NULL,
  name_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (word_id, name_id),
  INDEX (name_id)
);

-- Conflict hits say all their reasons; a check may stand for itself
ALTER TABLE conflict_hit ADD COLUMN IF NOT EXISTS reasons VARCHAR(1000) NOT NULL DEFAULT '[]';
ALTER TABLE conflict_hit MODIFY COLUMN reason VARCHAR(160) NOT NULL;
ALTER TABLE conflict_check ADD COLUMN IF NOT EXISTS about VARCHAR(200) NOT NULL DEFAULT '';
ALTER TABLE conflict_check ADD COLUMN IF NOT EXISTS note VARCHAR(500) NOT NULL DEFAULT '';
ALTER TABLE conflict_check ADD COLUMN IF NOT EXISTS more_hits INT NOT NULL DEFAULT 0;
CREATE INDEX IF NOT EXISTS conflict_made ON conflict_check (made_at);

-- Access by part: 0 nothing, 1 see, 2 change; what all staff may do on a matter, and what each of its team may
ALTER TABLE practice_area ADD COLUMN IF NOT EXISTS staff_file TINYINT NOT NULL DEFAULT 2;
ALTER TABLE practice_area ADD COLUMN IF NOT EXISTS staff_docket TINYINT NOT NULL DEFAULT 2;
ALTER TABLE practice_area ADD COLUMN IF NOT EXISTS staff_papers TINYINT NOT NULL DEFAULT 2;
ALTER TABLE practice_area ADD COLUMN IF NOT EXISTS staff_money TINYINT NOT NULL DEFAULT 2;
ALTER TABLE practice_area ADD COLUMN IF NOT EXISTS staff_trust TINYINT NOT NULL DEFAULT 2;
ALTER TABLE practice_area ADD COLUMN IF NOT EXISTS retired BOOLEAN NOT NULL DEFAULT FALSE;
CREATE TABLE IF NOT EXISTS area_team (
  area_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  role VARCHAR(20) NOT NULL,
  PRIMARY KEY (area_id, user_id),
  FOREIGN KEY (area_id) REFERENCES practice_area (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS area_procedure (
  area_id INT UNSIGNED NOT NULL,
  procedure_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (area_id, procedure_id),
  FOREIGN KEY (area_id) REFERENCES practice_area (id),
  FOREIGN KEY (procedure_id) REFERENCES procedure_def (id)
);
ALTER TABLE stage ADD COLUMN IF NOT EXISTS retired BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS staff_file TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS staff_docket TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS staff_papers TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS staff_money TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS staff_trust TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS second_number VARCHAR(60) NOT NULL DEFAULT '';
ALTER TABLE matter ADD COLUMN IF NOT EXISTS judge_id INT UNSIGNED NULL;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS originating_id INT UNSIGNED NULL;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS closing_note VARCHAR(500) NOT NULL DEFAULT '';
ALTER TABLE matter ADD COLUMN IF NOT EXISTS enquiry_id INT UNSIGNED NULL;
ALTER TABLE matter ADD COLUMN IF NOT EXISTS version INT UNSIGNED NOT NULL DEFAULT 1;
UPDATE matter SET staff_file = 0, staff_docket = 0, staff_papers = 0, staff_money = 0, staff_trust = 0 WHERE access = 'team';
CREATE INDEX IF NOT EXISTS matter_area ON matter (area_id, active_on, id);
CREATE INDEX IF NOT EXISTS matter_stage_of ON matter (stage_id);
CREATE INDEX IF NOT EXISTS matter_open ON matter (closed_on, active_on, id);
CREATE INDEX IF NOT EXISTS matter_count ON matter (closed_on, staff_file, id);
CREATE INDEX IF NOT EXISTS matter_court ON matter (court);
CREATE TABLE IF NOT EXISTS matter_word (
  word VARCHAR(40) NOT NULL,
  matter_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (word, matter_id),
  INDEX (matter_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
ALTER TABLE matter_team MODIFY COLUMN role VARCHAR(20) NOT NULL;
ALTER TABLE matter_team ADD COLUMN IF NOT EXISTS at_file TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter_team ADD COLUMN IF NOT EXISTS at_docket TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter_team ADD COLUMN IF NOT EXISTS at_papers TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter_team ADD COLUMN IF NOT EXISTS at_money TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter_team ADD COLUMN IF NOT EXISTS at_trust TINYINT NOT NULL DEFAULT 2;
ALTER TABLE matter_screen ADD COLUMN IF NOT EXISTS reason VARCHAR(300) NOT NULL DEFAULT '';
ALTER TABLE matter_screen ADD COLUMN IF NOT EXISTS since DATE NULL;
ALTER TABLE matter_party ADD COLUMN IF NOT EXISTS counsel_id INT UNSIGNED NULL;
ALTER TABLE matter_party ADD COLUMN IF NOT EXISTS served_on DATE NULL;
CREATE TABLE IF NOT EXISTS matter_client (
  matter_id INT UNSIGNED NOT NULL,
  contact_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (matter_id, contact_id),
  INDEX (contact_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (contact_id) REFERENCES contact (id)
);
CREATE TABLE IF NOT EXISTS matter_tag (
  matter_id INT UNSIGNED NOT NULL,
  tag VARCHAR(40) NOT NULL,
  PRIMARY KEY (matter_id, tag),
  INDEX (tag),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
CREATE TABLE IF NOT EXISTS matter_stage (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  stage_id INT UNSIGNED NOT NULL,
  from_day DATE NOT NULL,
  set_by INT UNSIGNED NOT NULL,
  INDEX (matter_id, id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (stage_id) REFERENCES stage (id)
);
INSERT INTO matter_stage (matter_id, stage_id, from_day, set_by)
  SELECT id, stage_id, opened_on, lead_id FROM matter m WHERE stage_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM matter_stage s WHERE s.matter_id = m.id);
CREATE TABLE IF NOT EXISTS matter_follow (
  matter_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (matter_id, user_id),
  INDEX (user_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS saved_view (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NOT NULL,
  list VARCHAR(30) NOT NULL,
  name VARCHAR(80) NOT NULL,
  state LONGTEXT NOT NULL,
  shared BOOLEAN NOT NULL DEFAULT FALSE,
  UNIQUE (user_id, list, name),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);

-- Fields of the firm's own
CREATE TABLE IF NOT EXISTS field_group (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  owner ENUM('contact','matter') NOT NULL,
  name VARCHAR(80) NOT NULL,
  repeating BOOLEAN NOT NULL DEFAULT FALSE,
  ordinal SMALLINT NOT NULL,
  UNIQUE (owner, name)
);
CREATE TABLE IF NOT EXISTS field_def (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  group_id INT UNSIGNED NOT NULL,
  name VARCHAR(80) NOT NULL,
  merge_key VARCHAR(60) NOT NULL UNIQUE,
  type ENUM('text','number','money','date','yes/no','choice','choices','contact') NOT NULL,
  choices LONGTEXT NOT NULL DEFAULT '[]',
  other_allowed BOOLEAN NOT NULL DEFAULT FALSE,
  required BOOLEAN NOT NULL DEFAULT FALSE,
  area_ids VARCHAR(400) NOT NULL DEFAULT '[]',
  shown_if_field INT UNSIGNED NULL,
  shown_if_value VARCHAR(120) NULL,
  ordinal SMALLINT NOT NULL,
  retired BOOLEAN NOT NULL DEFAULT FALSE,
  FOREIGN KEY (group_id) REFERENCES field_group (id),
  FOREIGN KEY (shown_if_field) REFERENCES field_def (id)
);
CREATE TABLE IF NOT EXISTS field_value (
  field_id INT UNSIGNED NOT NULL,
  owner_id INT UNSIGNED NOT NULL,
  item SMALLINT NOT NULL DEFAULT 0,
  value VARCHAR(1000) NOT NULL,
  sorted VARCHAR(60) NOT NULL,
  PRIMARY KEY (field_id, owner_id, item),
  INDEX (field_id, sorted),
  INDEX (owner_id),
  FOREIGN KEY (field_id) REFERENCES field_def (id)
);

-- Settings of the firm, and its own closed days
ALTER TABLE firm ADD COLUMN IF NOT EXISTS matter_pattern VARCHAR(60) NOT NULL DEFAULT '{yy}-{n:4}';
ALTER TABLE firm ADD COLUMN IF NOT EXISTS work_days VARCHAR(20) NOT NULL DEFAULT '[1,2,3,4,5]';
CREATE TABLE IF NOT EXISTS firm_holiday (
  day DATE NOT NULL PRIMARY KEY,
  name VARCHAR(80) NOT NULL
);
CREATE TABLE IF NOT EXISTS listed_fee (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL UNIQUE,
  area_id INT UNSIGNED NULL,
  portions LONGTEXT NOT NULL,
  retired BOOLEAN NOT NULL DEFAULT FALSE,
  FOREIGN KEY (area_id) REFERENCES practice_area (id)
);

-- Notes, talk and what they point at
CREATE TABLE IF NOT EXISTS topic (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  title VARCHAR(160) NOT NULL,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  last_at DATETIME(6) NOT NULL,
  INDEX (matter_id, last_at),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
CREATE TABLE IF NOT EXISTS note (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NULL,
  contact_id INT UNSIGNED NULL,
  topic_id INT UNSIGNED NULL,
  html LONGTEXT NOT NULL,
  plain TEXT NOT NULL,
  paper_id INT UNSIGNED NULL,
  author_id INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  changed_at DATETIME(6) NULL,
  deleted_at DATETIME(6) NULL,
  CHECK ((matter_id IS NULL) <> (contact_id IS NULL)),
  INDEX (matter_id, topic_id, id),
  INDEX (contact_id, id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (contact_id) REFERENCES contact (id),
  FOREIGN KEY (topic_id) REFERENCES topic (id),
  FOREIGN KEY (paper_id) REFERENCES paper (id),
  FOREIGN KEY (author_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS mention (
  note_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  seen_at DATETIME(6) NULL,
  PRIMARY KEY (note_id, user_id),
  INDEX (user_id, seen_at),
  FOREIGN KEY (note_id) REFERENCES note (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS notice_choice (
  user_id INT UNSIGNED NOT NULL,
  kind VARCHAR(20) NOT NULL,
  told BOOLEAN NOT NULL,
  by_mail BOOLEAN NOT NULL DEFAULT FALSE,
  PRIMARY KEY (user_id, kind),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS notice_seen (
  user_id INT UNSIGNED NOT NULL PRIMARY KEY,
  up_to BIGINT UNSIGNED NOT NULL,
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE INDEX IF NOT EXISTS audit_user ON audit_log (user_id, id);
CREATE INDEX IF NOT EXISTS audit_at ON audit_log (at);

-- Mail that goes out
CREATE TABLE IF NOT EXISTS mail (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  message_key VARCHAR(120) NOT NULL UNIQUE,
  to_address VARCHAR(190) NOT NULL,
  to_name VARCHAR(120) NOT NULL DEFAULT '',
  subject VARCHAR(300) NOT NULL,
  body TEXT NOT NULL,
  matter_id INT UNSIGNED NULL,
  created_at DATETIME(6) NOT NULL,
  sent_at DATETIME(6) NULL,
  INDEX (sent_at)
);

-- Imports
CREATE TABLE IF NOT EXISTS import_run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  what ENUM('contacts','matters') NOT NULL,
  file_id BIGINT UNSIGNED NOT NULL,
  file_name VARCHAR(200) NOT NULL,
  columns LONGTEXT NOT NULL,
  mapping LONGTEXT NOT NULL,
  state ENUM('read','tried','loaded','failed') NOT NULL DEFAULT 'read',
  total INT NOT NULL DEFAULT 0,
  good INT NOT NULL DEFAULT 0,
  faults LONGTEXT NOT NULL DEFAULT '[]',
  job_id BIGINT UNSIGNED NULL,
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  FOREIGN KEY (file_id) REFERENCES stored_file (id)
);

-- Leave and departure
CREATE TABLE IF NOT EXISTS absence (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NOT NULL,
  kind ENUM('leave','departure') NOT NULL,
  from_day DATE NOT NULL,
  to_day DATE NULL,
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  ended_at DATETIME(6) NULL,
  INDEX (user_id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS handed_over (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  absence_id INT UNSIGNED NOT NULL,
  what ENUM('lead','team','date','task') NOT NULL,
  subject_id INT UNSIGNED NOT NULL,
  to_id INT UNSIGNED NOT NULL,
  was LONGTEXT NOT NULL,
  given_back_at DATETIME(6) NULL,
  INDEX (absence_id),
  FOREIGN KEY (absence_id) REFERENCES absence (id)
);
