-- +goose Up
CREATE TABLE users (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE COLLATE NOCASE,
  password TEXT NOT NULL,
  created_at INTEGER NOT NULL
);
CREATE TABLE sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry INTEGER NOT NULL);
CREATE INDEX sessions_expiry ON sessions (expiry);
CREATE TABLE secrets (name TEXT PRIMARY KEY, value BLOB NOT NULL);

-- Every object of the configuration is a document with a revision; what it points to stands in refs.
CREATE TABLE objects (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  kind TEXT NOT NULL,
  scope INTEGER NOT NULL DEFAULT 0,
  name TEXT NOT NULL COLLATE NOCASE,
  rev INTEGER NOT NULL,
  body TEXT NOT NULL,
  UNIQUE (kind, scope, name)
);
CREATE TABLE refs (
  from_id INTEGER NOT NULL REFERENCES objects (id) ON DELETE CASCADE,
  to_id INTEGER NOT NULL REFERENCES objects (id) ON DELETE RESTRICT,
  PRIMARY KEY (from_id, to_id)
) WITHOUT ROWID;
CREATE INDEX refs_to ON refs (to_id);
CREATE TABLE cards (
  format TEXT NOT NULL, facility INTEGER NOT NULL, number TEXT NOT NULL,
  person_id INTEGER NOT NULL REFERENCES objects (id) ON DELETE CASCADE,
  PRIMARY KEY (format, facility, number)
) WITHOUT ROWID;
CREATE INDEX cards_person ON cards (person_id);
CREATE INDEX cards_number ON cards (number);
CREATE TABLE ports (
  controller_id INTEGER NOT NULL REFERENCES objects (id) ON DELETE RESTRICT,
  port INTEGER NOT NULL,
  door_id INTEGER NOT NULL REFERENCES objects (id) ON DELETE CASCADE,
  PRIMARY KEY (controller_id, port)
) WITHOUT ROWID;
CREATE INDEX ports_door ON ports (door_id);
-- Codes holds each person's PIN and the one under duress; no two people share any.
CREATE TABLE codes (
  hash TEXT PRIMARY KEY,
  person_id INTEGER NOT NULL REFERENCES objects (id) ON DELETE CASCADE,
  duress INTEGER NOT NULL
) WITHOUT ROWID;
CREATE INDEX codes_person ON codes (person_id);

CREATE TABLE links (
  controller_id INTEGER PRIMARY KEY REFERENCES objects (id) ON DELETE CASCADE,
  address TEXT NOT NULL,
  key BLOB NOT NULL,
  image BLOB, hash TEXT NOT NULL DEFAULT '', names TEXT NOT NULL DEFAULT '{}', sent_at INTEGER,
  wanted INTEGER NOT NULL DEFAULT 0
);
CREATE TABLE backups (id INTEGER PRIMARY KEY, at INTEGER NOT NULL, why TEXT NOT NULL, body TEXT NOT NULL);
CREATE TABLE audit (
  id INTEGER PRIMARY KEY, at INTEGER NOT NULL, who TEXT NOT NULL, action TEXT NOT NULL,
  kind TEXT NOT NULL, object_id INTEGER NOT NULL, name TEXT NOT NULL, rev INTEGER NOT NULL DEFAULT 0, was TEXT, now TEXT
);
CREATE INDEX audit_object ON audit (object_id);

CREATE TABLE events (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  controller_id INTEGER NOT NULL, log TEXT NOT NULL, seq INTEGER NOT NULL,
  at INTEGER NOT NULL, stored_at INTEGER NOT NULL,
  kind TEXT NOT NULL, outcome TEXT NOT NULL, reason TEXT NOT NULL,
  door_id INTEGER NOT NULL, person_id INTEGER NOT NULL,
  controller TEXT NOT NULL, door TEXT NOT NULL, person TEXT NOT NULL,
  headline TEXT NOT NULL, detail TEXT NOT NULL, trace TEXT NOT NULL, mend TEXT NOT NULL, zone TEXT NOT NULL, raw TEXT NOT NULL,
  alarm INTEGER NOT NULL DEFAULT 0, acked_at INTEGER, acked_by TEXT,
  UNIQUE (controller_id, log, seq)
);
CREATE INDEX events_at ON events (at DESC, id DESC);
CREATE INDEX events_door ON events (door_id, at DESC);
CREATE INDEX events_person ON events (person_id, at DESC);
CREATE INDEX events_outcome ON events (outcome, at DESC);
CREATE INDEX events_alarms ON events (id) WHERE alarm = 1 AND acked_at IS NULL;

-- +goose Down
DROP TABLE events; DROP TABLE audit; DROP TABLE backups; DROP TABLE links; DROP TABLE codes; DROP TABLE ports;
DROP TABLE cards; DROP TABLE refs; DROP TABLE objects; DROP TABLE secrets; DROP TABLE sessions; DROP TABLE users;
