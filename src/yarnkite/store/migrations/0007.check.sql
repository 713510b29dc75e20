-- measures: the numbers as JSON; blocks: light in stops of a grid of 16 × 24, 16-bit floats, little-endian.
ALTER TABLE still ADD COLUMN blocks VARBINARY(1024) NULL AFTER measures;

-- How a still lies against the one before it, for any two stills that ever followed each other.
CREATE TABLE still_pair (
  first_fingerprint CHAR(32) CHARACTER SET ascii NOT NULL,
  next_fingerprint CHAR(32) CHARACTER SET ascii NOT NULL,
  across DOUBLE NOT NULL,
  down DOUBLE NOT NULL,
  turn DOUBLE NOT NULL,
  trust DOUBLE NOT NULL,
  PRIMARY KEY (first_fingerprint, next_fingerprint)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

-- Spots of dirt seen in a shot, and in which stills they were looked for.
CREATE TABLE shot_dirt (
  shot_id INT UNSIGNED NOT NULL PRIMARY KEY,
  looked_at CHAR(32) CHARACTER SET ascii NOT NULL,
  spots JSON NOT NULL,
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

ALTER TABLE job MODIFY kind ENUM('gather', 'encode', 'footage', 'find', 'export', 'check') NOT NULL;
