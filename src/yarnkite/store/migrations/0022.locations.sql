-- A folder that may be looked into is a location; jobs that wait say where their files go.
UPDATE job SET wanted = REPLACE(wanted, '"root":', '"location":') WHERE wanted IS NOT NULL AND kind IN ('export', 'encode', 'reel');
