-- Who may sign in. The password is kept as its Argon2id hash alone.
CREATE TABLE people (
  id TEXT PRIMARY KEY NOT NULL DEFAULT (lower(hex(randomblob(8)))),
  name TEXT NOT NULL UNIQUE COLLATE NOCASE,
  role TEXT NOT NULL CHECK (role IN ('owner', 'designer', 'crew', 'viewer')),
  password TEXT NOT NULL,
  created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT;
-- Links by which somebody without an account reads one job. The token itself is kept nowhere: only its SHA-256.
CREATE TABLE links (
  id TEXT PRIMARY KEY NOT NULL DEFAULT (lower(hex(randomblob(8)))),
  job_id TEXT NOT NULL REFERENCES jobs (id) ON DELETE CASCADE,
  token TEXT NOT NULL UNIQUE,
  purpose TEXT NOT NULL CHECK (purpose IN ('crew', 'papers')),
  name TEXT NOT NULL,
  made_by TEXT NOT NULL,
  made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now')),
  until TEXT NOT NULL,
  used_at TEXT,
  revoked_at TEXT
) STRICT;
-- Who is signed in, in which browser: a person, or whoever came by a link.
CREATE TABLE sessions (
  token TEXT PRIMARY KEY NOT NULL,
  person_id TEXT REFERENCES people (id) ON DELETE CASCADE,
  link_id TEXT REFERENCES links (id) ON DELETE CASCADE,
  began_at TEXT NOT NULL,
  issued_at TEXT NOT NULL,
  seen_at TEXT NOT NULL,
  ends_at TEXT NOT NULL,
  CHECK ((person_id IS NULL) <> (link_id IS NULL))
) STRICT;
CREATE INDEX sessions_by_person ON sessions (person_id);
-- Who did what. Nothing is ever taken out.
CREATE TABLE audit (
  at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now')),
  who TEXT NOT NULL,
  what TEXT NOT NULL,
  job_id TEXT NOT NULL DEFAULT '',
  detail TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX audit_by_time ON audit (at);
