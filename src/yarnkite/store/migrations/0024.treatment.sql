-- A shot's decisions taken over by others as one deed: what was taken of which revision of the model, and the revision it made
-- of each. Shots it changed nothing about are not in it.
CREATE TABLE treatment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  model_id INT UNSIGNED NOT NULL,
  model_revision INT UNSIGNED NOT NULL,
  parts SET('light', 'fit', 'move', 'pace', 'encode') NOT NULL,
  undone BOOLEAN NOT NULL DEFAULT FALSE,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY treatment_of_project (project_id, id),
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE,
  FOREIGN KEY (model_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;

CREATE TABLE treated_shot (
  treatment_id INT UNSIGNED NOT NULL,
  shot_id INT UNSIGNED NOT NULL,
  revision INT UNSIGNED NOT NULL,
  PRIMARY KEY (treatment_id, shot_id),
  FOREIGN KEY (treatment_id) REFERENCES treatment (id) ON DELETE CASCADE,
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
