-- Red and blue against green of the blocks, in stops, 16-bit floats, little-endian. Stills gathered before have none until
-- their shot is gathered again.
ALTER TABLE still ADD COLUMN colours VARBINARY(2048) NULL AFTER blocks;
