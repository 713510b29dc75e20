-- source_name: what a copied still is called where it came from, where its copy was renamed since; changed_ns: the time of
-- change of the file's inode, which writing it over cannot hide.
ALTER TABLE still
  ADD COLUMN source_name VARCHAR(4096) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL AFTER name,
  ADD COLUMN changed_ns BIGINT NULL AFTER modified_ns;

-- How often the program ended in the middle of a job, and how far it was at the furthest.
ALTER TABLE job
  ADD COLUMN deaths INT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN died_at INT UNSIGNED NOT NULL DEFAULT 0;

-- The days on which the program ran: a clock may jump, these are counted.
CREATE TABLE day_run (
  day DATE NOT NULL PRIMARY KEY
) ENGINE=InnoDB;
