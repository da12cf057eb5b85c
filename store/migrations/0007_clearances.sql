-- +goose Up
-- Who is cleared, under which screening: of each person the latest word.
CREATE TABLE clearances (
  person_id INTEGER NOT NULL,
  screening_id INTEGER NOT NULL,
  until INTEGER NOT NULL,
  at INTEGER NOT NULL,
  controller_id INTEGER NOT NULL,
  seq INTEGER NOT NULL,
  by_whom TEXT NOT NULL,
  PRIMARY KEY (person_id, screening_id)
);

-- +goose Down
DROP TABLE clearances;
