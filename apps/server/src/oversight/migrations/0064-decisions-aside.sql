-- What someone who decides has put off: it comes again on the day named, for them alone.
CREATE TABLE IF NOT EXISTS decision_aside (
  user_id INT UNSIGNED NOT NULL,
  kind VARCHAR(20) NOT NULL,
  item VARCHAR(40) NOT NULL,
  until DATE NOT NULL,
  PRIMARY KEY (user_id, kind, item),
  FOREIGN KEY (user_id) REFERENCES user_account (id)
)
