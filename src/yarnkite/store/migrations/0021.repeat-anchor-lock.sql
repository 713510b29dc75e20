-- One word, one meaning: a still that is shown again is repeated, a point that stays where it is is anchored, a number of a
-- plan that stays is locked. To hold is how long a still stays.
UPDATE revision SET decisions = REPLACE(REPLACE(REPLACE(decisions,
    '"held":', '"repeated":'), '"how": "hold"', '"how": "anchor"'), '"how":"hold"', '"how":"anchor"');
UPDATE job SET recipe = REPLACE(REPLACE(REPLACE(recipe,
    '"held":', '"repeated":'), '"how": "hold"', '"how": "anchor"'), '"how":"hold"', '"how":"anchor"')
  WHERE recipe IS NOT NULL;
UPDATE plan SET planned = REPLACE(planned, '"held":', '"locked":');
