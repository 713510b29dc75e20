-- Standard terms in place of coined ones, in columns and in what is stored as JSON.
ALTER TABLE revision
  CHANGE COLUMN back undo_to INT UNSIGNED NULL,
  CHANGE COLUMN forth redo_to INT UNSIGNED NULL;
ALTER TABLE shot
  CHANGE COLUMN kept dismissed JSON NULL,
  CHANGE COLUMN weight size_model JSON NULL;
ALTER TABLE still_pair
  CHANGE COLUMN across x DOUBLE NOT NULL,
  CHANGE COLUMN down y DOUBLE NOT NULL,
  CHANGE COLUMN turn rotation_deg DOUBLE NOT NULL;
ALTER TABLE preset CHANGE COLUMN made settings JSON NOT NULL;
ALTER TABLE shot_dirt CHANGE COLUMN looked_at sample CHAR(32) CHARACTER SET ascii NOT NULL;
DELETE FROM shot_dirt;

UPDATE still SET measures = REPLACE(measures, '"looks"', '"dhash"') WHERE measures IS NOT NULL;

-- A key is renamed where it stands: "across" and "down" of the lens before those of the fit around it.
UPDATE revision SET decisions = REPLACE(REPLACE(REPLACE(REPLACE(REPLACE(REPLACE(decisions,
    '"bend_more":', '"k2":'), '"bend":', '"k1":'), '"kept":', '"dismissed":'), '"turn":', '"direction":'),
    '"across":', '"x":'), '"down":', '"y":');
UPDATE revision SET decisions = JSON_REMOVE(JSON_SET(decisions,
    '$.fit.lens.keystone_x', JSON_EXTRACT(decisions, '$.fit.lens.x'),
    '$.fit.lens.keystone_y', JSON_EXTRACT(decisions, '$.fit.lens.y')), '$.fit.lens.x', '$.fit.lens.y')
  WHERE JSON_EXISTS(decisions, '$.fit.lens.x');
UPDATE job SET recipe = REPLACE(REPLACE(REPLACE(REPLACE(REPLACE(REPLACE(recipe,
    '"bend_more":', '"k2":'), '"bend":', '"k1":'), '"kept":', '"dismissed":'), '"turn":', '"direction":'),
    '"across":', '"x":'), '"down":', '"y":')
  WHERE recipe IS NOT NULL;
UPDATE job SET recipe = JSON_REMOVE(JSON_SET(recipe,
    '$.decisions.fit.lens.keystone_x', JSON_EXTRACT(recipe, '$.decisions.fit.lens.x'),
    '$.decisions.fit.lens.keystone_y', JSON_EXTRACT(recipe, '$.decisions.fit.lens.y')),
    '$.decisions.fit.lens.x', '$.decisions.fit.lens.y')
  WHERE recipe IS NOT NULL AND JSON_EXISTS(recipe, '$.decisions.fit.lens.x');
UPDATE job SET wanted = REPLACE(wanted, '"place":', '"root":') WHERE kind = 'export' AND wanted IS NOT NULL;
