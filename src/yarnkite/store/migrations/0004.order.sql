ALTER TABLE still ADD COLUMN number INT UNSIGNED NOT NULL DEFAULT 0 AFTER shot_id;
UPDATE still SET number = position;
ALTER TABLE still DROP PRIMARY KEY, ADD PRIMARY KEY (shot_id, number), ADD KEY still_position (shot_id, position);
ALTER TABLE still ALTER COLUMN number DROP DEFAULT;
