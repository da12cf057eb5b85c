-- +goose Up
-- Where people are, as controllers saw them go through: of each person the latest.
CREATE TABLE places (
  person_id INTEGER PRIMARY KEY,
  area_id INTEGER NOT NULL,
  unknown INTEGER NOT NULL,
  at INTEGER NOT NULL,
  controller_id INTEGER NOT NULL,
  seq INTEGER NOT NULL
);

-- +goose Down
DROP TABLE places;
