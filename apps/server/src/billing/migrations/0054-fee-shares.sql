-- Who shares the fixed fees of a matter, in hundredths of a percent; by recorded value where nobody is named.
CREATE TABLE IF NOT EXISTS matter_fee_share (
  matter_id INT UNSIGNED NOT NULL,
  user_id INT UNSIGNED NOT NULL,
  basis_points INT UNSIGNED NOT NULL CHECK (basis_points BETWEEN 1 AND 10000),
  PRIMARY KEY (matter_id, user_id),
  FOREIGN KEY (matter_id) REFERENCES matter (id) ON DELETE CASCADE,
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
