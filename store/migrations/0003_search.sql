-- +goose Up
-- Names, and of people their departments and card numbers, by every three letters in a row: what stands anywhere in them is
-- found without reading every document.
CREATE VIRTUAL TABLE search USING fts5(text, content='', contentless_delete=1, tokenize='trigram remove_diacritics 1');
INSERT INTO search (rowid, text)
  SELECT id, name || char(10) || coalesce(json_extract(body, '$.department'), '') || char(10) ||
    coalesce((SELECT group_concat(facility || '-' || printf('%05d', number), ' ') FROM cards WHERE person_id = id), '')
  FROM objects WHERE kind <> 'settings';

-- +goose Down
DROP TABLE search;
