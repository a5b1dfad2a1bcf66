-- Whoever saved last; empty where nobody signs in.
ALTER TABLE jobs ADD COLUMN changed_by TEXT NOT NULL DEFAULT '';
-- What a job was: one row for each stretch of work of one person, as it ended. What they save within ten minutes of the first
-- save of a stretch takes the place of the save before, so that a day of drawing is no thousand rows.
CREATE TABLE revisions (
  job_id TEXT NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
  revision INTEGER NOT NULL,
  began_at TEXT NOT NULL,
  saved_at TEXT NOT NULL,
  who TEXT NOT NULL,
  body TEXT NOT NULL,
  PRIMARY KEY (job_id, revision)
) STRICT;
INSERT INTO revisions SELECT id, revision, changed_at, changed_at, '', body FROM jobs;
CREATE TRIGGER history_of_new_jobs AFTER INSERT ON jobs BEGIN
  INSERT INTO revisions VALUES (new.id, new.revision, new.changed_at, new.changed_at, new.changed_by, new.body);
END;
CREATE TRIGGER history_of_saves AFTER UPDATE OF body ON jobs WHEN new.revision > old.revision BEGIN
  INSERT INTO revisions SELECT new.id, new.revision,
    coalesce((SELECT began_at FROM revisions
              WHERE job_id = new.id AND revision = old.revision AND who = new.changed_by
                AND began_at > strftime('%Y-%m-%dT%H:%M:%fZ', new.changed_at, '-10 minutes')), new.changed_at),
    new.changed_at, new.changed_by, new.body;
  DELETE FROM revisions
    WHERE job_id = new.id AND revision = old.revision AND who = new.changed_by
      AND began_at > strftime('%Y-%m-%dT%H:%M:%fZ', new.changed_at, '-10 minutes');
END;
