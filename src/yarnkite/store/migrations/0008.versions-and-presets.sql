-- A version shares the shot's stills, order and check; its fit, pace and format are those of its newest revision.
CREATE TABLE version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  name VARCHAR(60) NOT NULL,
  UNIQUE KEY version_name (shot_id, name),
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

ALTER TABLE revision
  ADD COLUMN version_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (version_id) REFERENCES version (id) ON DELETE SET NULL;

CREATE TABLE preset (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  made JSON NOT NULL,
  UNIQUE KEY preset_name (name)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
