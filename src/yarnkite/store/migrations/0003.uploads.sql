CREATE TABLE upload (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  name VARCHAR(120) NOT NULL,
  manifest_digest CHAR(32) CHARACTER SET ascii NOT NULL,
  shot_id INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY upload_manifest (project_id, manifest_digest),
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE upload_file (
  upload_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  name VARCHAR(4096) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  modified_ms BIGINT NOT NULL,
  PRIMARY KEY (upload_id, number),
  FOREIGN KEY (upload_id) REFERENCES upload (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
