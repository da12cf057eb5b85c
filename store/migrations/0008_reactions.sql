-- +goose Up
-- What reactions wrote to the stand-in mailbox, and marked in the recordings of stand-in cameras.
CREATE TABLE lines (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  kind TEXT NOT NULL,
  whom TEXT NOT NULL,
  words TEXT NOT NULL,
  reaction TEXT NOT NULL,
  event_id INTEGER NOT NULL
);
CREATE INDEX lines_by_time ON lines (at);

-- What reactions called out, and what was answered.
CREATE TABLE calls (
  id INTEGER PRIMARY KEY,
  at INTEGER NOT NULL,
  address TEXT NOT NULL,
  url TEXT NOT NULL,
  body TEXT NOT NULL,
  reaction TEXT NOT NULL,
  tries INTEGER NOT NULL,
  next_at INTEGER NOT NULL,
  answer TEXT NOT NULL
);
CREATE INDEX calls_by_time ON calls (next_at);

-- +goose Down
DROP TABLE calls;
DROP TABLE lines;
