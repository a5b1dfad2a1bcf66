-- The id of the save that made the current revision: a save whose answer was lost is known again when it is repeated.
ALTER TABLE jobs ADD COLUMN save_id TEXT;
