-- What was written down on site. A record is never changed: a later one corrects it. Its id is made where the record was, so that
-- one whose answer was lost is known when it comes again.
CREATE TABLE records (
  number INTEGER PRIMARY KEY AUTOINCREMENT,
  job_id TEXT NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
  id TEXT NOT NULL,
  received_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now')),
  who TEXT NOT NULL,
  body TEXT NOT NULL,
  UNIQUE (job_id, id)
) STRICT;
CREATE TRIGGER records_stay BEFORE UPDATE ON records BEGIN
  SELECT raise(ABORT, 'a record is never changed');
END;
