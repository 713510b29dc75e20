-- A queue whose order can be changed and whose jobs can rest, clips of every format, and what sizes were measured.
ALTER TABLE job MODIFY kind ENUM('gather', 'encode', 'footage', 'find', 'export', 'check', 'together', 'move', 'sound', 'reel', 'size') NOT NULL,
  MODIFY state ENUM('waiting', 'running', 'paused', 'finished', 'failed', 'cancelled') NOT NULL DEFAULT 'waiting',
  ADD COLUMN turn DOUBLE NULL;

ALTER TABLE clip ADD COLUMN path VARCHAR(4096) NULL,
  ADD COLUMN encode TEXT NULL,
  ADD COLUMN evidence VARCHAR(500) NOT NULL DEFAULT '',
  ADD COLUMN lowest_at INT UNSIGNED NULL,
  ADD COLUMN width INT UNSIGNED NULL,
  ADD COLUMN height INT UNSIGNED NULL,
  ADD COLUMN rate VARCHAR(40) NULL,
  ADD COLUMN format VARCHAR(20) NULL,
  ADD COLUMN expected_bytes BIGINT UNSIGNED NULL,
  ADD COLUMN expected_s DOUBLE NULL,
  ADD COLUMN took_s DOUBLE NULL,
  ADD KEY clip_format (format, id);

CREATE TABLE measured_size (
  frames_digest CHAR(32) CHARACTER SET ascii NOT NULL,
  quality_digest CHAR(32) CHARACTER SET ascii NOT NULL,
  crf DOUBLE NOT NULL,
  wanted TINYINT UNSIGNED NOT NULL,
  formats TEXT NOT NULL,
  measured_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (frames_digest, quality_digest),
  KEY measured_size_age (measured_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
