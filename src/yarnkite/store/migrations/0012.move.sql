-- How stills lie against each other, for any two that were ever compared; how far their horizons lean; points that were
-- followed, by all that determines where they are. numbers: 12 floats of 64 bits, sights: 3 of 32 bits a still, little-endian.
CREATE TABLE still_motion (
  first_fingerprint CHAR(32) CHARACTER SET ascii NOT NULL,
  next_fingerprint CHAR(32) CHARACTER SET ascii NOT NULL,
  numbers VARBINARY(96) NOT NULL,
  degrees TINYINT UNSIGNED NOT NULL,
  noise DOUBLE NOT NULL,
  corners SMALLINT UNSIGNED NOT NULL,
  agreeing DOUBLE NOT NULL,
  PRIMARY KEY (first_fingerprint, next_fingerprint)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE still_horizon (
  fingerprint CHAR(32) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  angle_deg DOUBLE NOT NULL,
  trust DOUBLE NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE point_track (
  digest CHAR(32) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  sights MEDIUMBLOB NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

-- How often movement was measured: what is shown may be another afterwards.
ALTER TABLE shot ADD COLUMN moves_measured INT UNSIGNED NOT NULL DEFAULT 0;

ALTER TABLE job MODIFY kind ENUM('gather', 'encode', 'footage', 'find', 'export', 'check', 'together', 'move') NOT NULL;

-- Every correction used to say that nothing is shifted.
UPDATE job SET recipe = REPLACE(recipe, ',"x":0.0,"y":0.0}', '}') WHERE recipe IS NOT NULL;
