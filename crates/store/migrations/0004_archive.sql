-- Jobs that are done are put by: they stay, and are listed apart.
ALTER TABLE jobs ADD COLUMN archived_at TEXT;
