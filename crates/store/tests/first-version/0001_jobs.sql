-- A job is one document; its revision counts its saves, so that a stale edit can be told.
CREATE TABLE jobs (
    id          TEXT PRIMARY KEY NOT NULL,
    name        TEXT NOT NULL,
    revision    INTEGER NOT NULL CHECK (revision >= 1),
    body        TEXT NOT NULL CHECK (json_valid(body)),
    created_at  TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now')),
    changed_at  TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now')),
    deleted_at  TEXT
) STRICT;
CREATE INDEX jobs_by_change ON jobs (changed_at DESC) WHERE deleted_at IS NULL;
