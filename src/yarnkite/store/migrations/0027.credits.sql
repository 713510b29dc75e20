-- Whose a piece of music is, as its file says it or a person wrote it.
ALTER TABLE sound ADD COLUMN credit VARCHAR(300) NOT NULL DEFAULT '';
