-- Which batch a rename takes back: one that was broken off, or whose last answer was lost, ends as what it is.
ALTER TABLE rename_batch ADD COLUMN takes_back BIGINT UNSIGNED NULL;
