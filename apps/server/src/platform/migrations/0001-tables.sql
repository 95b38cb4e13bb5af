-- The firm and the people who sign in
CREATE TABLE IF NOT EXISTS firm (
  id TINYINT NOT NULL PRIMARY KEY CHECK (id = 1),
  name VARCHAR(160) NOT NULL,
  address VARCHAR(400) NOT NULL,
  phone VARCHAR(40) NOT NULL DEFAULT '',
  demo BOOLEAN NOT NULL DEFAULT FALSE,
  district VARCHAR(60) NULL,
  time_unit_minutes SMALLINT NOT NULL DEFAULT 6 CHECK (time_unit_minutes BETWEEN 1 AND 60),
  time_rounding ENUM('up','nearest') NOT NULL DEFAULT 'up',
  bill_terms_days SMALLINT NOT NULL DEFAULT 30,
  trust_notice_days SMALLINT NOT NULL DEFAULT 0 CHECK (trust_notice_days >= 0),
  separate_trust_via_pooled BOOLEAN NOT NULL DEFAULT TRUE,
  tax_basis_points INT NOT NULL DEFAULT 0 CHECK (tax_basis_points BETWEEN 0 AND 10000),
  books_closed_to DATE NULL
);
CREATE TABLE IF NOT EXISTS user_account (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  initials VARCHAR(4) NOT NULL,
  email VARCHAR(190) NOT NULL UNIQUE,
  role ENUM('administrator','lawyer','paralegal','docket clerk','bookkeeper','outside lawyer') NOT NULL,
  title VARCHAR(80) NOT NULL DEFAULT '',
  password_hash VARCHAR(255) NOT NULL,
  active BOOLEAN NOT NULL DEFAULT TRUE,
  left_on DATE NULL,
  day_goal_minutes SMALLINT NOT NULL DEFAULT 0,
  may_override_clearing BOOLEAN NOT NULL DEFAULT FALSE
);
CREATE TABLE IF NOT EXISTS session (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  token_hash CHAR(64) NOT NULL UNIQUE,
  csrf CHAR(43) NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  expires_at DATETIME(6) NOT NULL,
  FOREIGN KEY (user_id) REFERENCES user_account (id),
  INDEX (user_id)
);
CREATE TABLE IF NOT EXISTS sign_in_attempt (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  email VARCHAR(190) NOT NULL,
  address VARCHAR(64) NOT NULL,
  at DATETIME(6) NOT NULL,
  INDEX (email, at),
  INDEX (address, at)
);
CREATE TABLE IF NOT EXISTS idempotency (
  user_id INT UNSIGNED NOT NULL,
  idempotency_key VARCHAR(80) NOT NULL,
  body_hash CHAR(64) NOT NULL,
  response LONGTEXT NULL,
  created_at DATETIME(6) NOT NULL,
  PRIMARY KEY (user_id, idempotency_key)
);
CREATE TABLE IF NOT EXISTS audit_log (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(6) NOT NULL,
  user_id INT UNSIGNED NULL,
  kind VARCHAR(40) NOT NULL,
  text VARCHAR(500) NOT NULL,
  matter_id INT UNSIGNED NULL,
  subject VARCHAR(40) NOT NULL,
  subject_id BIGINT UNSIGNED NULL,
  detail LONGTEXT NULL,
  INDEX (matter_id, id),
  INDEX (subject, subject_id)
);
CREATE TABLE IF NOT EXISTS counter (name VARCHAR(60) NOT NULL PRIMARY KEY, value INT NOT NULL);
CREATE TABLE IF NOT EXISTS stored_file (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sha256 CHAR(64) NOT NULL,
  size INT UNSIGNED NOT NULL,
  media_type VARCHAR(120) NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (sha256)
);
CREATE TABLE IF NOT EXISTS job (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(40) NOT NULL,
  payload LONGTEXT NOT NULL,
  state ENUM('waiting','running','done','failed') NOT NULL DEFAULT 'waiting',
  attempts TINYINT NOT NULL DEFAULT 0,
  run_after DATETIME(6) NOT NULL,
  progress TINYINT NOT NULL DEFAULT 0,
  result LONGTEXT NULL,
  error VARCHAR(500) NULL,
  user_id INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (state, run_after)
);

-- People
CREATE TABLE IF NOT EXISTS contact (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind ENUM('person','organization') NOT NULL,
  name VARCHAR(200) NOT NULL,
  normalized VARCHAR(200) NOT NULL,
  greeting VARCHAR(120) NOT NULL DEFAULT '',
  email VARCHAR(190) NOT NULL DEFAULT '',
  phone VARCHAR(40) NOT NULL DEFAULT '',
  address VARCHAR(400) NOT NULL DEFAULT '',
  notes TEXT NOT NULL DEFAULT '',
  private_to INT UNSIGNED NULL,
  created_at DATETIME(6) NOT NULL,
  FOREIGN KEY (private_to) REFERENCES user_account (id),
  INDEX (name),
  INDEX (normalized)
);
CREATE TABLE IF NOT EXISTS contact_kind (
  contact_id INT UNSIGNED NOT NULL,
  kind VARCHAR(40) NOT NULL,
  PRIMARY KEY (contact_id, kind),
  INDEX (kind),
  FOREIGN KEY (contact_id) REFERENCES contact (id)
);
CREATE TABLE IF NOT EXISTS contact_word (
  word VARCHAR(60) NOT NULL,
  contact_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (word, contact_id),
  FOREIGN KEY (contact_id) REFERENCES contact (id)
);

-- Matters
CREATE TABLE IF NOT EXISTS practice_area (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL UNIQUE,
  rule_set_key VARCHAR(60) NULL
);
CREATE TABLE IF NOT EXISTS stage (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  area_id INT UNSIGNED NOT NULL,
  name VARCHAR(80) NOT NULL,
  ordinal SMALLINT NOT NULL,
  UNIQUE (area_id, ordinal),
  FOREIGN KEY (area_id) REFERENCES practice_area (id)
);
CREATE TABLE IF NOT EXISTS matter (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  number VARCHAR(20) NOT NULL UNIQUE,
  name VARCHAR(200) NOT NULL,
  short_name VARCHAR(60) NOT NULL,
  kind ENUM('client','firm','practice') NOT NULL DEFAULT 'client',
  client_id INT UNSIGNED NOT NULL,
  area_id INT UNSIGNED NULL,
  stage_id INT UNSIGNED NULL,
  opened_on DATE NOT NULL,
  closed_on DATE NULL,
  description TEXT NOT NULL DEFAULT '',
  court VARCHAR(160) NOT NULL DEFAULT '',
  case_number VARCHAR(60) NOT NULL DEFAULT '',
  our_side VARCHAR(40) NOT NULL DEFAULT '',
  rule_set_key VARCHAR(60) NULL,
  facts VARCHAR(200) NOT NULL DEFAULT '[]',
  lead_id INT UNSIGNED NOT NULL,
  billing ENUM('hourly','flat') NOT NULL DEFAULT 'hourly',
  bill_to_id INT UNSIGNED NULL,
  access ENUM('firm','team') NOT NULL DEFAULT 'firm',
  conflict_check_id BIGINT UNSIGNED NULL,
  active_on DATE NOT NULL,
  INDEX (opened_on, id),
  INDEX (active_on, id),
  INDEX (name),
  INDEX (client_id),
  INDEX (lead_id),
  CHECK (closed_on IS NULL OR closed_on >= opened_on),
  FOREIGN KEY (client_id) REFERENCES contact (id),
  FOREIGN KEY (bill_to_id) REFERENCES contact (id),
  FOREIGN KEY (area_id) REFERENCES practice_area (id),
  FOREIGN KEY (stage_id) REFERENCES stage (id),
  FOREIGN KEY (lead_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS matter_party (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  contact_id INT UNSIGNED NOT NULL,
  role VARCHAR(60) NOT NULL,
  side ENUM('ours','adverse','other') NOT NULL,
  counsel VARCHAR(200) NOT NULL DEFAULT '',
  added_at DATETIME(6) NOT NULL,
  UNIQUE (matter_id, contact_id, role),
  INDEX (contact_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (contact_id) REFERENCES contact (id)
);
CREATE TABLE IF NOT EXISTS matter_team (
  matter_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  role ENUM('lead','lawyer','paralegal','assistant','outside') NOT NULL,
  keeps BOOLEAN NOT NULL DEFAULT FALSE,
  rate BIGINT NULL CHECK (rate IS NULL OR rate >= 0),
  since DATE NOT NULL,
  PRIMARY KEY (matter_id, user_id),
  INDEX (user_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS matter_screen (
  matter_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (matter_id, user_id),
  INDEX (user_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS fee_portion (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  ordinal SMALLINT NOT NULL,
  label VARCHAR(120) NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  earned_on DATE NULL,
  bill_id INT UNSIGNED NULL,
  UNIQUE (matter_id, ordinal),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
CREATE TABLE IF NOT EXISTS conflict_check (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NULL,
  terms LONGTEXT NOT NULL,
  names_on_record INT NOT NULL,
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(6) NOT NULL,
  FOREIGN KEY (made_by) REFERENCES user_account (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
CREATE TABLE IF NOT EXISTS conflict_hit (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  check_id BIGINT UNSIGNED NOT NULL,
  term VARCHAR(200) NOT NULL,
  contact_id INT UNSIGNED NULL,
  name VARCHAR(200) NOT NULL,
  reason VARCHAR(80) NOT NULL,
  score TINYINT UNSIGNED NOT NULL,
  matters LONGTEXT NOT NULL,
  decision ENUM('no conflict','waiver needed','waiver on file','decline') NULL,
  note VARCHAR(500) NOT NULL DEFAULT '',
  decided_by INT UNSIGNED NULL,
  decided_at DATETIME(6) NULL,
  INDEX (check_id),
  FOREIGN KEY (check_id) REFERENCES conflict_check (id),
  FOREIGN KEY (contact_id) REFERENCES contact (id)
);

-- Docket
CREATE TABLE IF NOT EXISTS trigger_event (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  rule_set_key VARCHAR(60) NOT NULL,
  rule_set_edition VARCHAR(20) NOT NULL,
  kind VARCHAR(60) NOT NULL,
  label VARCHAR(160) NOT NULL,
  day DATE NOT NULL,
  service VARCHAR(40) NULL,
  tentative BOOLEAN NOT NULL DEFAULT FALSE,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (matter_id, kind),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
CREATE TABLE IF NOT EXISTS docket_entry (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  trigger_id INT UNSIGNED NULL,
  deadline_key VARCHAR(60) NULL,
  title VARCHAR(200) NOT NULL,
  text TEXT NOT NULL,
  authority VARCHAR(200) NOT NULL DEFAULT '',
  link VARCHAR(300) NULL,
  weight ENUM('strict','rule','court order','firm practice','appointment') NOT NULL,
  day DATE NOT NULL,
  before_roll DATE NULL,
  at_time TIME NULL,
  length_minutes SMALLINT NULL,
  place VARCHAR(120) NOT NULL DEFAULT '',
  day_ends VARCHAR(20) NOT NULL DEFAULT '',
  how_counted VARCHAR(300) NOT NULL DEFAULT '',
  counted_from VARCHAR(400) NOT NULL DEFAULT '[]',
  trace LONGTEXT NOT NULL,
  left_out BOOLEAN NOT NULL DEFAULT FALSE,
  mark ENUM('open','in hand','met','waived','vacated') NOT NULL DEFAULT 'open',
  urgent BOOLEAN NOT NULL DEFAULT FALSE,
  off_calendar BOOLEAN NOT NULL DEFAULT FALSE,
  set_by ENUM('rule','hand','court') NOT NULL DEFAULT 'rule',
  provisional BOOLEAN NOT NULL DEFAULT FALSE,
  tentative BOOLEAN NOT NULL DEFAULT FALSE,
  responsible_id INT UNSIGNED NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (matter_id, day),
  INDEX (day, mark),
  INDEX (trigger_id),
  INDEX (responsible_id, day),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (trigger_id) REFERENCES trigger_event (id),
  FOREIGN KEY (responsible_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS docket_history (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  entry_id INT UNSIGNED NOT NULL,
  at DATETIME(6) NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  what VARCHAR(60) NOT NULL,
  was VARCHAR(120) NOT NULL DEFAULT '',
  became VARCHAR(120) NOT NULL DEFAULT '',
  why VARCHAR(300) NOT NULL DEFAULT '',
  INDEX (entry_id),
  FOREIGN KEY (entry_id) REFERENCES docket_entry (id)
);

-- Tasks
CREATE TABLE IF NOT EXISTS procedure_def (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  description VARCHAR(400) NOT NULL DEFAULT '',
  area_id INT UNSIGNED NULL,
  FOREIGN KEY (area_id) REFERENCES practice_area (id)
);
CREATE TABLE IF NOT EXISTS procedure_step (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  procedure_id INT UNSIGNED NOT NULL,
  ordinal SMALLINT NOT NULL,
  text VARCHAR(200) NOT NULL,
  assign_to ENUM('lead','paralegal','starter') NOT NULL,
  anchor_step SMALLINT NULL,
  count SMALLINT NOT NULL CHECK (count >= 0),
  unit ENUM('calendar','business') NOT NULL,
  direction ENUM('after','before') NOT NULL DEFAULT 'after',
  priority ENUM('high','normal','low') NOT NULL DEFAULT 'normal',
  UNIQUE (procedure_id, ordinal),
  FOREIGN KEY (procedure_id) REFERENCES procedure_def (id)
);
CREATE TABLE IF NOT EXISTS procedure_run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  procedure_id INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NOT NULL,
  started_on DATE NOT NULL,
  started_by INT UNSIGNED NOT NULL,
  steps SMALLINT NOT NULL,
  FOREIGN KEY (procedure_id) REFERENCES procedure_def (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
CREATE TABLE IF NOT EXISTS task (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NULL,
  run_id INT UNSIGNED NULL,
  step SMALLINT NULL,
  text VARCHAR(200) NOT NULL,
  assignee_id INT UNSIGNED NOT NULL,
  assigned_by INT UNSIGNED NOT NULL,
  priority ENUM('high','normal','low') NOT NULL DEFAULT 'normal',
  due_on DATE NULL,
  done_at DATETIME(6) NULL,
  done_by INT UNSIGNED NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (assignee_id, done_at, due_on),
  INDEX (matter_id, done_at),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (run_id) REFERENCES procedure_run (id),
  FOREIGN KEY (assignee_id) REFERENCES user_account (id)
);

-- Papers
CREATE TABLE IF NOT EXISTS template (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  description VARCHAR(400) NOT NULL DEFAULT '',
  folder VARCHAR(60) NOT NULL,
  file_id BIGINT UNSIGNED NOT NULL,
  fields VARCHAR(1000) NOT NULL,
  FOREIGN KEY (file_id) REFERENCES stored_file (id)
);
CREATE TABLE IF NOT EXISTS paper (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  folder VARCHAR(60) NOT NULL,
  name VARCHAR(200) NOT NULL,
  file_id BIGINT UNSIGNED NOT NULL,
  template_id INT UNSIGNED NULL,
  made_with LONGTEXT NULL,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  deleted_at DATETIME(6) NULL,
  INDEX (matter_id, created_at),
  INDEX (created_at),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (file_id) REFERENCES stored_file (id),
  FOREIGN KEY (template_id) REFERENCES template (id),
  FOREIGN KEY (created_by) REFERENCES user_account (id)
);

-- Time and costs
CREATE TABLE IF NOT EXISTS activity (
  code VARCHAR(12) NOT NULL PRIMARY KEY,
  name VARCHAR(80) NOT NULL,
  rate BIGINT NULL
);
CREATE TABLE IF NOT EXISTS user_rate (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NOT NULL,
  from_day DATE NOT NULL,
  to_day DATE NULL,
  rate BIGINT NOT NULL CHECK (rate >= 0),
  usual BOOLEAN NOT NULL DEFAULT TRUE,
  INDEX (user_id, from_day),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS client_rate (
  client_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  rate BIGINT NOT NULL CHECK (rate >= 0),
  PRIMARY KEY (client_id, user_id),
  FOREIGN KEY (client_id) REFERENCES contact (id),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
);
CREATE TABLE IF NOT EXISTS timer (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NULL,
  text VARCHAR(300) NOT NULL DEFAULT '',
  seconds INT UNSIGNED NOT NULL DEFAULT 0,
  running_since DATETIME(6) NULL,
  running_user INT UNSIGNED AS (IF(running_since IS NULL, NULL, user_id)) STORED,
  UNIQUE (running_user),
  INDEX (user_id),
  FOREIGN KEY (user_id) REFERENCES user_account (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);
CREATE TABLE IF NOT EXISTS time_entry (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  user_id INT UNSIGNED NOT NULL,
  entered_by INT UNSIGNED NOT NULL,
  matter_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  activity VARCHAR(12) NULL,
  text VARCHAR(1000) NOT NULL,
  worked_minutes SMALLINT UNSIGNED NOT NULL,
  minutes SMALLINT UNSIGNED NOT NULL CHECK (minutes > 0),
  rate BIGINT NOT NULL CHECK (rate >= 0),
  rate_origin VARCHAR(12) NOT NULL,
  amount BIGINT NOT NULL CHECK (amount >= 0),
  charge ENUM('billable','no charge','non-billable') NOT NULL DEFAULT 'billable',
  state ENUM('draft','posted','reversed') NOT NULL DEFAULT 'draft',
  journal_id BIGINT UNSIGNED NULL,
  bill_id INT UNSIGNED NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (user_id, day),
  INDEX (matter_id, state, bill_id, day),
  INDEX (state, user_id),
  FOREIGN KEY (user_id) REFERENCES user_account (id),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (activity) REFERENCES activity (code)
);
CREATE TABLE IF NOT EXISTS cost_entry (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  kind ENUM('soft cost','hard cost') NOT NULL,
  text VARCHAR(300) NOT NULL,
  amount BIGINT NOT NULL CHECK (amount > 0),
  payee VARCHAR(160) NOT NULL DEFAULT '',
  entered_by INT UNSIGNED NOT NULL,
  journal_id BIGINT UNSIGNED NULL,
  bill_id INT UNSIGNED NULL,
  created_at DATETIME(6) NOT NULL,
  INDEX (matter_id, bill_id, day),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
);

-- Bills. A pre-bill can change; a bill and its lines never do.
CREATE TABLE IF NOT EXISTS bill (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  number VARCHAR(20) NOT NULL UNIQUE,
  matter_id INT UNSIGNED NOT NULL,
  payer_id INT UNSIGNED NOT NULL,
  issued_on DATE NOT NULL,
  due_on DATE NOT NULL,
  work_to DATE NOT NULL,
  worked BIGINT NOT NULL,
  fees BIGINT NOT NULL,
  hard_costs BIGINT NOT NULL,
  soft_costs BIGINT NOT NULL,
  discount BIGINT NOT NULL,
  tax BIGINT NOT NULL,
  total BIGINT NOT NULL CHECK (total >= 0),
  snapshot LONGTEXT NOT NULL,
  journal_id BIGINT UNSIGNED NOT NULL,
  issued_by INT UNSIGNED NOT NULL,
  INDEX (matter_id),
  INDEX (payer_id),
  INDEX (issued_on),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (payer_id) REFERENCES contact (id)
);
CREATE TABLE IF NOT EXISTS bill_line (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  bill_id INT UNSIGNED NOT NULL,
  ordinal SMALLINT NOT NULL,
  kind ENUM('time','flat','soft cost','hard cost','interest','tax') NOT NULL,
  day DATE NULL,
  timekeeper_id INT UNSIGNED NULL,
  timekeeper_name VARCHAR(120) NOT NULL DEFAULT '',
  text VARCHAR(1000) NOT NULL,
  minutes SMALLINT UNSIGNED NULL,
  rate BIGINT NULL,
  worked BIGINT NOT NULL,
  charged BIGINT NOT NULL,
  no_charge BOOLEAN NOT NULL,
  discount BIGINT NOT NULL,
  net BIGINT NOT NULL,
  source_id INT UNSIGNED NULL,
  UNIQUE (bill_id, ordinal),
  INDEX (kind, source_id),
  FOREIGN KEY (bill_id) REFERENCES bill (id)
);
CREATE TABLE IF NOT EXISTS bill_pdf (
  bill_id INT UNSIGNED NOT NULL PRIMARY KEY,
  file_id BIGINT UNSIGNED NOT NULL,
  sha256 CHAR(64) NOT NULL,
  made_at DATETIME(6) NOT NULL,
  FOREIGN KEY (bill_id) REFERENCES bill (id),
  FOREIGN KEY (file_id) REFERENCES stored_file (id)
);
CREATE TABLE IF NOT EXISTS pre_bill (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  matter_id INT UNSIGNED NOT NULL,
  payer_id INT UNSIGNED NOT NULL,
  work_to DATE NOT NULL,
  discount_amount BIGINT NOT NULL DEFAULT 0 CHECK (discount_amount >= 0),
  discount_basis_points INT NOT NULL DEFAULT 0 CHECK (discount_basis_points BETWEEN 0 AND 10000),
  tax_basis_points INT NOT NULL DEFAULT 0,
  state ENUM('review','approved','issued') NOT NULL DEFAULT 'review',
  bill_id INT UNSIGNED NULL,
  open_matter INT UNSIGNED AS (IF(state = 'issued', NULL, matter_id)) STORED,
  created_by INT UNSIGNED NOT NULL,
  created_at DATETIME(6) NOT NULL,
  approved_by INT UNSIGNED NULL,
  UNIQUE (open_matter, payer_id),
  INDEX (state),
  FOREIGN KEY (matter_id) REFERENCES matter (id),
  FOREIGN KEY (payer_id) REFERENCES contact (id),
  FOREIGN KEY (bill_id) REFERENCES bill (id)
);
CREATE TABLE IF NOT EXISTS pre_bill_line (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  pre_bill_id INT UNSIGNED NOT NULL,
  ordinal SMALLINT NOT NULL,
  kind ENUM('time','flat','soft cost','hard cost') NOT NULL,
  source_id INT UNSIGNED NOT NULL,
  day DATE NULL,
  timekeeper_id INT UNSIGNED NULL,
  text VARCHAR(1000) NOT NULL,
  minutes SMALLINT UNSIGNED NULL,
  rate BIGINT NULL,
  worked BIGINT NOT NULL,
  charged BIGINT NOT NULL CHECK (charged >= 0),
  no_charge BOOLEAN NOT NULL DEFAULT FALSE,
  held_back BOOLEAN NOT NULL DEFAULT FALSE,
  UNIQUE (pre_bill_id, kind, source_id),
  FOREIGN KEY (pre_bill_id) REFERENCES pre_bill (id) ON DELETE RESTRICT
);
