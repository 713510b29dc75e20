ALTER TABLE still
  ADD COLUMN id INT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE FIRST,
  ADD COLUMN camera VARCHAR(400) NOT NULL DEFAULT '' AFTER utc_offset_min,
  ADD COLUMN lens VARCHAR(200) NOT NULL DEFAULT '' AFTER camera,
  ADD COLUMN software VARCHAR(200) NOT NULL DEFAULT '' AFTER lens,
  ADD COLUMN exposure_s DOUBLE NULL AFTER software,
  ADD COLUMN aperture DOUBLE NULL AFTER exposure_s,
  ADD COLUMN sensitivity INT UNSIGNED NULL AFTER aperture,
  ADD COLUMN focal_length_mm DOUBLE NULL AFTER sensitivity;

ALTER TABLE left_out ADD COLUMN kind VARCHAR(16) NOT NULL DEFAULT 'other';

-- back and forth: the revisions that undo and redo lead to.
ALTER TABLE revision ADD COLUMN back INT UNSIGNED NULL, ADD COLUMN forth INT UNSIGNED NULL;
UPDATE revision SET back = number - 1 WHERE number > 1;

-- source: where copied files came from; raws: of a raw file and its JPEG, the raw file is the still;
-- kept: proposals of sorting out that were turned down.
ALTER TABLE shot
  ADD COLUMN source VARBINARY(4096) NULL AFTER folder,
  ADD COLUMN raws BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN kept JSON NULL;

CREATE TABLE taken_out (
  shot_id INT UNSIGNED NOT NULL,
  name VARCHAR(4096) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  KEY (shot_id),
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

ALTER TABLE job
  MODIFY kind ENUM('gather', 'encode', 'footage', 'find', 'export') NOT NULL,
  ADD COLUMN wanted JSON NULL AFTER recipe;

CREATE TABLE named_pattern (
  name VARCHAR(120) NOT NULL PRIMARY KEY,
  parts JSON NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
