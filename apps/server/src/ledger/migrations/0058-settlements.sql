-- Entries that a card processor hands over as one movement, less its fees, by the name of its settlement.
CREATE TABLE IF NOT EXISTS bank_settlement (
  entry_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  settlement VARCHAR(60) NOT NULL,
  INDEX (settlement),
  FOREIGN KEY (entry_id) REFERENCES bank_entry (id)
)
