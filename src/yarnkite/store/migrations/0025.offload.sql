-- A card that is emptied with proof: a job of a project, and what became of each file that was found on the card.
ALTER TABLE job
  MODIFY kind ENUM('gather', 'encode', 'footage', 'find', 'export', 'check', 'together', 'move', 'sound', 'reel', 'size', 'watch', 'capture', 'offload') NOT NULL,
  ADD COLUMN project_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE;

-- `target` is a path below each folder the card is copied to, nothing for what was left on the card by choice.
CREATE TABLE offload_file (
  job_id INT UNSIGNED NOT NULL,
  position INT UNSIGNED NOT NULL,
  name TEXT NOT NULL,
  target TEXT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  modified_ns BIGINT NOT NULL,
  sha256 CHAR(64) CHARACTER SET ascii NULL,
  trouble TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (job_id, position),
  FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
