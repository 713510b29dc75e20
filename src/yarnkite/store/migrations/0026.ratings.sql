-- What a still's file says of it by XMP, and what a sidecar beside it says (with its name, size and time of change). Stills
-- gathered before have neither until their files are read again.
ALTER TABLE still ADD COLUMN rating TINYINT NULL,
  ADD COLUMN label VARCHAR(60) NULL,
  ADD COLUMN caption VARCHAR(500) NULL,
  ADD COLUMN has_edits BOOLEAN NULL,
  ADD COLUMN sidecar JSON NULL;

-- What is told of a shot's stills is told of their state (0020).
CREATE OR REPLACE TRIGGER still_changed AFTER UPDATE ON still FOR EACH ROW
  UPDATE still_state SET version = UUID_SHORT() WHERE shot_id IN (OLD.shot_id, NEW.shot_id) AND NOT (
    NEW.shot_id <=> OLD.shot_id AND NEW.position <=> OLD.position AND NEW.away <=> OLD.away AND NEW.name <=> OLD.name
    AND NEW.source_name <=> OLD.source_name AND NEW.kind <=> OLD.kind AND NEW.bytes <=> OLD.bytes
    AND NEW.modified_at <=> OLD.modified_at AND NEW.modified_ns <=> OLD.modified_ns
    AND NEW.changed_ns <=> OLD.changed_ns AND NEW.width <=> OLD.width AND NEW.height <=> OLD.height
    AND NEW.captured_at <=> OLD.captured_at AND NEW.utc_offset_min <=> OLD.utc_offset_min
    AND NEW.camera <=> OLD.camera AND NEW.lens <=> OLD.lens AND NEW.software <=> OLD.software
    AND NEW.exposure_s <=> OLD.exposure_s AND NEW.aperture <=> OLD.aperture AND NEW.sensitivity <=> OLD.sensitivity
    AND NEW.focal_length_mm <=> OLD.focal_length_mm AND NEW.white_mired <=> OLD.white_mired
    AND NEW.fingerprint <=> OLD.fingerprint AND NEW.luminance <=> OLD.luminance AND NEW.tail_row <=> OLD.tail_row
    AND NEW.measures <=> OLD.measures AND NEW.blocks <=> OLD.blocks AND NEW.colours <=> OLD.colours
    AND NEW.bits <=> OLD.bits AND NEW.remark <=> OLD.remark AND NEW.rating <=> OLD.rating AND NEW.label <=> OLD.label
    AND NEW.caption <=> OLD.caption AND NEW.has_edits <=> OLD.has_edits AND NEW.sidecar <=> OLD.sidecar
  );
