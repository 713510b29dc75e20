-- Looks: a light under a name; tables of colours, by what they do; and the light a raw still is balanced for.
CREATE TABLE look (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  settings JSON NOT NULL,
  UNIQUE KEY look_name (name)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE colour_table (
  digest CHAR(32) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  side SMALLINT UNSIGNED NOT NULL,
  packed MEDIUMTEXT CHARACTER SET ascii NOT NULL,
  created_at DATETIME NOT NULL DEFAULT CURRENT_TIMESTAMP
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

ALTER TABLE still ADD COLUMN white_mired DOUBLE NULL AFTER focal_length_mm;
