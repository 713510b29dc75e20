-- modified_ns: the file's own time, exactly; away: the file cannot be reached now, its still keeps all that was decided.
ALTER TABLE still
  ADD COLUMN modified_ns BIGINT NULL AFTER modified_at,
  ADD COLUMN away BOOLEAN NOT NULL DEFAULT FALSE AFTER modified_ns;

-- No camera took these, and their offsets from UTC lead out of what a calendar holds.
UPDATE still SET captured_at = NULL, utc_offset_min = NULL
  WHERE captured_at < '1800-01-01' OR captured_at >= '3000-01-01';

-- A still that is brought back is the still it was.
ALTER TABLE taken_out
  ADD COLUMN still_id INT UNSIGNED NULL,
  ADD COLUMN wanted_back BOOLEAN NOT NULL DEFAULT FALSE;

-- Long lists of stills, kept once however many revisions name them: differences of ids, as JSON, compressed (zlib).
CREATE TABLE id_list (
  digest CHAR(32) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  packed MEDIUMBLOB NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

-- What is deleted can be taken back until its time is over; only names in use must differ.
ALTER TABLE project
  ADD COLUMN deleted_at DATETIME(3) NULL,
  ADD COLUMN name_in_use VARCHAR(120) COLLATE utf8mb4_unicode_520_ci AS (IF(deleted_at IS NULL, name, NULL)) VIRTUAL,
  ADD UNIQUE KEY project_name_in_use (name_in_use),
  DROP KEY project_name;
ALTER TABLE shot ADD COLUMN deleted_at DATETIME(3) NULL;

ALTER TABLE job MODIFY kind ENUM('gather', 'encode', 'footage', 'find', 'export', 'check', 'together') NOT NULL;

-- stuck: neither completed nor taken back at a start, because files or folders were not as the journal says.
ALTER TABLE rename_batch ADD COLUMN stuck BOOLEAN NOT NULL DEFAULT FALSE;
