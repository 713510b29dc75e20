-- What is odd about a still's file though it is used, and its bits a sample. Stills gathered before have neither until their
-- files are read again.
ALTER TABLE still ADD COLUMN bits TINYINT UNSIGNED NULL,
  ADD COLUMN remark ENUM('gain map', 'code points', 'profile', 'two colours', 'cut light', 'no matrix') NULL;
