CREATE TABLE rename_batch (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  folder VARBINARY(4096) NOT NULL,
  state ENUM('parking', 'placing', 'unplacing', 'done', 'taken back') NOT NULL DEFAULT 'parking',
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY rename_state (state),
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE rename_move (
  batch_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  old_name VARCHAR(4096) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  parked_name VARCHAR(4096) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  new_name VARCHAR(4096) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  modified_ns BIGINT NOT NULL,
  PRIMARY KEY (batch_id, number),
  FOREIGN KEY (batch_id) REFERENCES rename_batch (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
