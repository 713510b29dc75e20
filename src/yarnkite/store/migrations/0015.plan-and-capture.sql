-- Shots that are planned, in the order of a list; a number counts how often each was changed.
CREATE TABLE plan (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  turn INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL DEFAULT 1,
  planned LONGTEXT NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  deleted_at DATETIME(3) NULL,
  KEY plan_turn (project_id, turn),
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

-- A job that watches or captures stands in nobody's way but while it takes files into the shot.
ALTER TABLE job ADD COLUMN at_files BOOLEAN NOT NULL DEFAULT FALSE,
  MODIFY kind ENUM('gather', 'encode', 'footage', 'find', 'export', 'check', 'together', 'move', 'sound', 'reel', 'size',
    'watch', 'capture') NOT NULL;

-- What became of a capture: how many stills came, and where some did not, as it went.
CREATE TABLE capture (
  job_id INT UNSIGNED NOT NULL PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  began_at DATETIME(6) NULL,
  next_beat INT UNSIGNED NOT NULL DEFAULT 0,
  taken INT UNSIGNED NOT NULL DEFAULT 0,
  late INT UNSIGNED NOT NULL DEFAULT 0,
  missed INT UNSIGNED NOT NULL DEFAULT 0,
  paused BOOLEAN NOT NULL DEFAULT FALSE,
  stopped BOOLEAN NOT NULL DEFAULT FALSE,
  FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE,
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE capture_gap (
  job_id INT UNSIGNED NOT NULL,
  first_beat INT UNSIGNED NOT NULL,
  last_beat INT UNSIGNED NOT NULL,
  why ENUM('paused', 'away', 'failed', 'late', 'stopped') NOT NULL,
  sentence VARCHAR(500) NOT NULL,
  PRIMARY KEY (job_id, first_beat),
  FOREIGN KEY (job_id) REFERENCES job (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
