-- +goose Up
-- Departments stand for themselves: what people only named becomes an object.
INSERT INTO objects (kind, scope, name, rev, body)
  SELECT 'department', 0, d, 1, json_object('id', 0, 'name', d, 'levels', json_array()) FROM (
    SELECT trim(substr(trim(json_extract(body, '$.department')), 1, 80)) AS d FROM objects
    WHERE kind = 'person' AND json_valid(body) AND trim(coalesce(json_extract(body, '$.department'), '')) <> ''
    GROUP BY d COLLATE NOCASE);
INSERT INTO refs (from_id, to_id)
  SELECT p.id, d.id FROM objects p JOIN objects d ON d.kind = 'department'
    AND d.name = trim(substr(trim(json_extract(p.body, '$.department')), 1, 80))
  WHERE p.kind = 'person' AND json_valid(p.body);
INSERT INTO search (rowid, text) SELECT id, name FROM objects WHERE kind = 'department';

-- Two people may have one name: each is a scope of their own. Lists are sorted by what they are in.
DROP INDEX people_department;
ALTER TABLE objects ADD COLUMN section TEXT NOT NULL DEFAULT '' COLLATE NOCASE;
UPDATE objects SET scope = id, section = coalesce((SELECT d.name FROM refs r JOIN objects d ON d.id = r.to_id
    WHERE r.from_id = objects.id AND d.kind = 'department'), '')
  WHERE kind = 'person';
UPDATE objects SET body = json_remove(json_set(body, '$.departmentIds', json((SELECT json_group_array(d.id) FROM refs r
    JOIN objects d ON d.id = r.to_id WHERE r.from_id = objects.id AND d.kind = 'department'))), '$.department')
  WHERE kind = 'person' AND json_valid(body);
CREATE INDEX objects_section ON objects (kind, section, name, id);

-- What the history tells of people says it in the same way; the old word stays beside it.
UPDATE audit SET was = json_set(was, '$.departmentIds', json((SELECT json_group_array(d.id) FROM objects d WHERE d.kind = 'department'
    AND d.name = trim(substr(trim(json_extract(was, '$.department')), 1, 80)))))
  WHERE kind = 'person' AND json_valid(was);
UPDATE audit SET now = json_set(now, '$.departmentIds', json((SELECT json_group_array(d.id) FROM objects d WHERE d.kind = 'department'
    AND d.name = trim(substr(trim(json_extract(now, '$.department')), 1, 80)))))
  WHERE kind = 'person' AND json_valid(now);
UPDATE commits SET n = n + 1;

-- What a change does, as it was shown before it was saved.
ALTER TABLE audit ADD COLUMN effect TEXT NOT NULL DEFAULT '';
CREATE INDEX audit_at ON audit (at);

-- Cards that are enrolled and nobody's stand beside those of people: no number twice.
CREATE TABLE free_cards (
  format TEXT NOT NULL, facility INTEGER NOT NULL, number TEXT NOT NULL,
  card_id INTEGER NOT NULL REFERENCES objects (id) ON DELETE CASCADE,
  PRIMARY KEY (format, facility, number)
) WITHOUT ROWID;
CREATE INDEX free_cards_card ON free_cards (card_id);

-- When and where somebody was let in last.
CREATE TABLE seen (
  person_id INTEGER PRIMARY KEY REFERENCES objects (id) ON DELETE CASCADE, at INTEGER NOT NULL, door_id INTEGER NOT NULL
);
INSERT INTO seen (person_id, at, door_id)
  SELECT e.person_id, max(e.at), e.door_id FROM events e JOIN objects o ON o.id = e.person_id AND o.kind = 'person'
  WHERE e.outcome = 'granted' GROUP BY e.person_id;

CREATE TABLE photos (
  person_id INTEGER PRIMARY KEY REFERENCES objects (id) ON DELETE CASCADE,
  kind TEXT NOT NULL, bytes BLOB NOT NULL, at INTEGER NOT NULL
);

-- What each send carried, and what it did as it was shown.
CREATE TABLE sends (
  id INTEGER PRIMARY KEY AUTOINCREMENT, at INTEGER NOT NULL, who TEXT NOT NULL,
  controller_id INTEGER NOT NULL, controller TEXT NOT NULL, hash TEXT NOT NULL, why TEXT NOT NULL, whole INTEGER NOT NULL,
  bytes INTEGER NOT NULL, outcome TEXT NOT NULL, words TEXT NOT NULL, changes TEXT NOT NULL, impact TEXT NOT NULL
);
CREATE INDEX sends_controller ON sends (controller_id, id);

-- What the application remembers for people, as how the columns of a file are read.
CREATE TABLE kept (name TEXT PRIMARY KEY, value TEXT NOT NULL);

-- +goose Down
SELECT 1;
