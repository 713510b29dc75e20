-- How neighbours lie against each other, and dirt, are measured in another way from now on: what was measured before is forgotten.
DELETE FROM still_pair;
DELETE FROM shot_dirt;
