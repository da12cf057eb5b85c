-- +goose Up
-- Commits counts the changes of the configuration, so that who holds a copy knows whether it is the newest.
CREATE TABLE commits (n INTEGER NOT NULL);
INSERT INTO commits (n) VALUES (1);

-- A removed person's PIN comes back with an undo.
ALTER TABLE audit ADD COLUMN codes TEXT;

-- A PIN's hash does not tell how many digits it has; those that are there have as many as PINs have now.
ALTER TABLE codes ADD COLUMN length INTEGER NOT NULL DEFAULT 4;
UPDATE codes SET length = coalesce((SELECT json_extract(body, '$.pinLength') FROM objects WHERE kind = 'settings'), 4);

-- Asked counts the times that somebody wanted a controller sent, so that a send in flight answers only what was
-- asked before it began. Identity is the public key by which the controller itself is known.
ALTER TABLE links ADD COLUMN asked INTEGER NOT NULL DEFAULT 0;
ALTER TABLE links ADD COLUMN identity BLOB;

-- What was sent to a controller, by the hash of the image: events are told in the words of the image that held.
CREATE TABLE sent (
  controller_id INTEGER NOT NULL REFERENCES objects (id) ON DELETE CASCADE,
  hash TEXT NOT NULL, image BLOB NOT NULL, names TEXT NOT NULL, at INTEGER NOT NULL,
  PRIMARY KEY (controller_id, hash)
);
INSERT INTO sent (controller_id, hash, image, names, at)
  SELECT controller_id, hash, image, names, coalesce(sent_at, 0) FROM links WHERE image IS NOT NULL AND hash <> '';
ALTER TABLE links DROP COLUMN image;
ALTER TABLE links DROP COLUMN names;

-- A controller that is being taken into service: its key is kept before the controller holds it for good.
CREATE TABLE takings (
  serial TEXT PRIMARY KEY, address TEXT NOT NULL, key BLOB NOT NULL, identity BLOB NOT NULL, code TEXT NOT NULL,
  who TEXT NOT NULL, at INTEGER NOT NULL
);

-- Sessions are found by a hash of their token, and belong to somebody.
DELETE FROM sessions;
ALTER TABLE sessions ADD COLUMN user TEXT NOT NULL DEFAULT '';
CREATE INDEX sessions_user ON sessions (user);

-- +goose Down
SELECT 1;
