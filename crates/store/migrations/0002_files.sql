-- Pictures, photos and weather files, each under the SHA-256 of its bytes. Jobs refer to them by that id; nothing is
-- ever taken out, so that undo, copies and older revisions of a job find theirs.
CREATE TABLE files (
    id TEXT PRIMARY KEY,
    media_type TEXT NOT NULL,
    bytes BLOB NOT NULL,
    added_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
) STRICT;
