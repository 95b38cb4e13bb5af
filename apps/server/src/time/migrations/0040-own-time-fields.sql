-- Entries of time have fields of the firm's own, too.
ALTER TABLE field_group MODIFY COLUMN owner ENUM('contact','matter','time') NOT NULL
