-- Reels of a project, what was decided about them, and the sounds and pictures a project keeps for them.
CREATE TABLE reel (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  name VARCHAR(120) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE reel_revision (
  reel_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  decisions LONGTEXT NOT NULL,
  undo_to INT UNSIGNED NULL,
  redo_to INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (reel_id, number),
  FOREIGN KEY (reel_id) REFERENCES reel (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE sound (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  name VARCHAR(255) NOT NULL,
  fingerprint CHAR(32) CHARACTER SET ascii NOT NULL,
  samples BIGINT UNSIGNED NOT NULL,
  remarks TEXT NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE logo (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  name VARCHAR(255) NOT NULL,
  fingerprint CHAR(32) CHARACTER SET ascii NOT NULL,
  width INT UNSIGNED NOT NULL,
  height INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

-- Jobs and clips are of a shot or of a reel.
ALTER TABLE job MODIFY shot_id INT UNSIGNED NULL, ADD COLUMN reel_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (reel_id) REFERENCES reel (id) ON DELETE CASCADE,
  MODIFY kind ENUM('gather', 'encode', 'footage', 'find', 'export', 'check', 'together', 'move', 'sound', 'reel') NOT NULL;
ALTER TABLE clip MODIFY shot_id INT UNSIGNED NULL, ADD COLUMN reel_id INT UNSIGNED NULL,
  ADD FOREIGN KEY (reel_id) REFERENCES reel (id) ON DELETE CASCADE;
