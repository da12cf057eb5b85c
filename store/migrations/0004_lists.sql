-- +goose Up
-- Lists are read in the order of names, and people by department, without sorting all of them. A document that is
-- damaged stands in no department, and can still be mended.
CREATE INDEX objects_name ON objects (kind, name, id);
CREATE INDEX people_department ON objects (
  kind, CASE WHEN json_valid(body) THEN coalesce(json_extract(body, '$.department'), '') ELSE '' END COLLATE NOCASE, name, id
);

-- +goose Down
DROP INDEX people_department; DROP INDEX objects_name;
