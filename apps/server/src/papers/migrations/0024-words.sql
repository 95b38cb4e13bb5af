-- Words by which papers are found. A word of a paper's name stands a second time, with = before it.
CREATE TABLE IF NOT EXISTS paper_word (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  word VARCHAR(41) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  UNIQUE KEY paper_word_word (word)
)
-- next
-- Which papers have a word, in blocks of 1,024 ids of papers; whoever changes a block holds its row of paper_block.
CREATE TABLE IF NOT EXISTS paper_posting (
  word_id INT UNSIGNED NOT NULL,
  block INT UNSIGNED NOT NULL,
  papers VARBINARY(128) NOT NULL,
  PRIMARY KEY (word_id, block)
)
-- next
CREATE TABLE IF NOT EXISTS paper_block (
  block INT UNSIGNED NOT NULL PRIMARY KEY
)
-- next
-- The words under which a paper stands in the index, so that they are taken out again when it changes.
CREATE TABLE IF NOT EXISTS paper_indexed (
  paper_id INT UNSIGNED NOT NULL PRIMARY KEY,
  words MEDIUMBLOB NOT NULL,
  FOREIGN KEY (paper_id) REFERENCES paper (id)
)
-- next
ALTER TABLE paper_text DROP INDEX IF EXISTS paper_text_words
-- next
-- The matter stood before the name, as a word.
UPDATE paper_text SET body = SUBSTRING(body, LOCATE(' ', body) + 1) WHERE body LIKE CONCAT('mx', matter_id, 'x %')
-- next
-- How many papers lie in each folder of a matter is counted without reading them.
ALTER TABLE paper ADD INDEX IF NOT EXISTS paper_folder_count (matter_id, deleted_at, folder)
-- next
-- Papers checked out and drafts to be read go over to others too.
ALTER TABLE handed_over MODIFY COLUMN what ENUM('lead','team','date','task','paper','review') NOT NULL
