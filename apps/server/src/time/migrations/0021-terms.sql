-- Rounding of time by matter and by client, and rates of the roles on a matter. What is not said here is the client's, then the firm's.
CREATE TABLE IF NOT EXISTS time_terms (
  owner ENUM('matter','client') NOT NULL,
  owner_id INT UNSIGNED NOT NULL,
  unit_minutes TINYINT UNSIGNED NULL CHECK (unit_minutes BETWEEN 1 AND 60),
  rounding ENUM('up','nearest') NULL,
  PRIMARY KEY (owner, owner_id)
)
-- next
CREATE TABLE IF NOT EXISTS role_rate (
  matter_id INT UNSIGNED NOT NULL,
  role VARCHAR(20) NOT NULL,
  rate BIGINT NOT NULL CHECK (rate BETWEEN 0 AND 1000000),
  PRIMARY KEY (matter_id, role),
  FOREIGN KEY (matter_id) REFERENCES matter (id)
)
