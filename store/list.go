package store

import (
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

// Page says which part of a list, in which order, and what to look for.
type Page struct {
	Search string
	Limit  int
	Offset int
	After  string   // the Next of the page before; empty: from the beginning, or from Offset
	Sort   string   // a column of the kind, with - before it for the other way round; empty: by name
	Where  []string // conditions, each as column=value; all have to hold
}

// column is what a list can be sorted and filtered by, as an expression over objects.
type column struct {
	sql string
	// points holds where a value is looked for among what the object points to, and not compared.
	points bool
	// where is a condition of its own on a value, instead of comparing it.
	where string
}

const folded = " COLLATE NOCASE"

// nameOf is the name of what a field points to, for sorting.
func nameOf(field string) column {
	return column{
		sql: `coalesce((SELECT o.name FROM objects o WHERE o.id = json_extract(objects.body, '$.` + field + `')), '')` +
			folded,
	}
}

func text(field string) column {
	return column{sql: `coalesce(json_extract(objects.body, '$.` + field + `'), '')` + folded}
}

func number(field string) column {
	return column{sql: `coalesce(json_extract(objects.body, '$.` + field + `'), 0)`}
}

func count(field string) column {
	return column{sql: `coalesce(json_array_length(objects.body, '$.` + field + `'), 0)`}
}

// department is what people's departments are called, as it stands in its index.
var department = column{sql: `section`}

// seen is when somebody was let in last.
var seen = column{sql: `coalesce((SELECT at FROM seen WHERE person_id = objects.id), 0)`}

// holding finds who holds a level: through themselves, a department, or a level that contains it.
var holding = column{where: `id IN (
	WITH RECURSIVE up (id) AS (SELECT CAST(? AS INTEGER) UNION SELECT r.from_id FROM refs r JOIN up ON r.to_id = up.id
		JOIN objects o ON o.id = r.from_id WHERE o.kind IN ('level', 'department'))
	SELECT r.from_id FROM refs r JOIN up ON r.to_id = up.id)`}

// state finds people by how they stand; dates are compared with today in UTC.
var state = column{where: `CASE ?
	WHEN 'suspended' THEN coalesce(json_extract(objects.body, '$.suspended'), 0) = 1
	WHEN 'past' THEN substr(coalesce(json_extract(objects.body, '$.until'), '9'), 1, 10) < date('now')
	WHEN 'coming' THEN substr(coalesce(json_extract(objects.body, '$.from'), '0'), 1, 10) > date('now')
	WHEN 'no card' THEN coalesce(json_array_length(objects.body, '$.credentials'), 0) = 0
	WHEN 'lost card' THEN EXISTS (SELECT 1 FROM json_each(objects.body, '$.credentials') c
		WHERE json_extract(c.value, '$.status') IN ('lost', 'stolen'))
	WHEN 'no level' THEN coalesce(json_array_length(objects.body, '$.levels'), 0) = 0 AND NOT EXISTS (SELECT 1 FROM refs r
		JOIN objects d ON d.id = r.to_id WHERE r.from_id = objects.id AND d.kind = 'department' AND json_array_length(d.body, '$.levels') > 0)
	WHEN 'temporary' THEN EXISTS (SELECT 1 FROM json_each(objects.body, '$.levels') g
		WHERE json_extract(g.value, '$.until') IS NOT NULL)
	ELSE 0 END`}

// used counts what points to an object.
var used = column{sql: `(SELECT count(*) FROM refs WHERE to_id = objects.id)`}

// columns of each kind, besides name. What an object points to is found by its number.
var columns = map[string]map[string]column{
	"person": {
		"department": department, "suspended": number("suspended"), "credentials": count("credentials"),
		"levels": count("levels"), "level": holding, "until": text("until"), "seen": seen, "state": state,
		"member": {points: true}, "number": text("number"),
	},
	"department": {"members": members, "levels": count("levels")},
	"free card":  {"kind": text("kind"), "status": text("status")},
	"level":      {"places": count("entries"), "holders": holders, "door": {points: true}, "schedule": {points: true}},
	"schedule":   {"used": used},
	"plan":       {"used": used},
	"door": {
		"floor": nameOf("floorId"), "controller": nameOf("controllerId"), "plan": nameOf("planId"), "port": number("port"),
		"lock": text("lock"), "floorId": number("floorId"), "controllerId": number("controllerId"),
		"planId": number("planId"),
	},
	"controller": {"serial": text("serial"), "model": text("model"), "site": nameOf("siteId"),
		"siteId": number("siteId")},
	"holiday":      {"type": nameOf("typeId"), "typeId": number("typeId"), "kind": text("kind")},
	"holiday type": {"rank": number("rank")},
	"dated change": {"from": text("from"), "until": text("until"), "mode": text("mode")},
	"door set":     {"doors": count("doorIds")},
	"floor":        {"level": number("level"), "siteId": number("siteId")},
	"site":         {"zone": text("zone")},
}

// holders counts the people who hold a level, through themselves, a department, or a level that contains it.
var holders = column{sql: `(WITH RECURSIVE up (id) AS (SELECT objects.id UNION SELECT r.from_id FROM refs r
		JOIN up ON r.to_id = up.id JOIN objects o ON o.id = r.from_id WHERE o.kind IN ('level', 'department'))
	SELECT count(DISTINCT r.from_id) FROM refs r JOIN up ON r.to_id = up.id JOIN objects o ON o.id = r.from_id
	WHERE o.kind = 'person')`}

// members counts the people of a department.
var members = column{sql: `(SELECT count(*) FROM refs JOIN objects o ON o.id = refs.from_id
	WHERE refs.to_id = objects.id AND o.kind = 'person')`}

// query is a list in SQL: where from, under which conditions, and what it is ordered by before the name.
type query struct {
	from, where string
	args        []any
	by          string
	down        bool
}

// asked reads what somebody wants of a list of a kind; what there is not is said with the field.
func asked(kind string, p Page) (query, error) {
	q := query{from: `objects`, where: `kind = ?`, args: []any{kind}}
	if p.Search != "" {
		in, found, args := matches(p.Search)
		q.from, q.where, q.args = in, q.where+` AND `+found, append(q.args, args...)
	}
	for _, w := range p.Where {
		name, value, ok := strings.Cut(w, "=")
		c, known := columns[kind][name]
		switch {
		case !ok || !known:
			return q,
				&Taken{"where", fmt.Sprintf("%q is no condition of a %s; write one such as %s=…", w, kind, firstColumn(kind))}
		case c.where != "":
			q.where, q.args = q.where+` AND `+c.where, append(q.args, value)
		case c.points:
			q.where, q.args = q.where+` AND id IN (SELECT from_id FROM refs WHERE to_id = ?)`, append(q.args, value)
		default:
			q.where, q.args = q.where+` AND CAST(`+c.sql+` AS TEXT) = ?`+folded, append(q.args, value)
		}
	}
	name, down := strings.CutPrefix(p.Sort, "-")
	q.down = down
	if name == "" || name == "name" {
		return q, nil
	}
	c, known := columns[kind][name]
	if !known || c.sql == "" {
		return q, &Taken{"sort", fmt.Sprintf("a list of kind %s cannot be sorted by %q", kind, name)}
	}
	q.by = c.sql
	return q, nil
}

func firstColumn(kind string) string {
	var names []string
	for n := range columns[kind] {
		names = append(names, n)
	}
	slices.Sort(names)
	if len(names) == 0 {
		return "name"
	}
	return names[0]
}

// spot is where in a list a row stands: what it is sorted by, its name and its number.
type spot struct {
	By   any     `json:"by,omitempty"`
	Name string  `json:"name"`
	ID   site.ID `json:"id"`
}

func (p spot) String() string {
	b, _ := json.Marshal(p) // numbers and texts always can be
	return base64.RawURLEncoding.EncodeToString(b)
}

func parseSpot(s string) (p spot, err error) {
	b, err := base64.RawURLEncoding.DecodeString(s)
	if err == nil {
		err = json.Unmarshal(b, &p)
	}
	if err != nil {
		return p, &Taken{"after", "this place in a list is not known; begin at its top"}
	}
	return p, nil
}

// key is what a list is ordered by.
func (q query) key() string {
	if q.by == "" {
		return `name, objects.id`
	}
	return q.by + `, name, objects.id`
}

func (q query) order(back bool) string {
	way := ` ASC`
	if q.down != back {
		way = ` DESC`
	}
	key := `name` + way + `, objects.id` + way
	if q.by != "" {
		key = q.by + way + `, ` + key
	}
	return ` ORDER BY ` + key
}

// past limits a list to what comes after a place, or before it.
func (q query) past(at spot, back bool) query {
	sign, marks, args := `>`, `?, ?`, []any{at.Name, at.ID}
	if q.down != back {
		sign = `<`
	}
	if q.by != "" {
		marks, args = `?, ?, ?`, append([]any{at.By}, args...)
	}
	q.where += ` AND (` + q.key() + `) ` + sign + ` (` + marks + `)`
	q.args = append(slices.Clone(q.args), args...)
	return q
}

func (q query) sortedBy() string {
	if q.by == "" {
		return `''`
	}
	return q.by
}

type listed struct {
	row
	By any `db:"by"`
}

// at is where a row stands in its list.
func (r listed) at(q query) spot {
	p := spot{Name: r.Name, ID: r.ID}
	if q.by != "" {
		p.By = r.By
		if b, ok := r.By.([]byte); ok {
			p.By = string(b)
		}
	}
	return p
}

// Found is a part of a list.
type Found[T any] struct {
	Items []Versioned[T]
	Total int
	Next  string // where the next page begins; empty at the end
}

// List reads a page of a kind. Search looks at names, and for people also at departments and card numbers.
func List[T any](ctx context.Context, s *Store, p Page) (Found[T], error) {
	out := Found[T]{Items: []Versioned[T]{}}
	q, err := asked(model.Of(new(T)).Word(), p)
	if err != nil {
		return out, err
	}
	if err := s.db.GetContext(ctx, &out.Total, `SELECT count(*) FROM `+q.from+` WHERE `+q.where, q.args...); err != nil {
		return out, err
	}
	paged := q
	if p.After != "" {
		at, err := parseSpot(p.After)
		if err != nil {
			return out, err
		}
		paged = q.past(at, false)
	}
	var rows []listed
	err = s.db.SelectContext(ctx, &rows, `SELECT objects.id, kind, name, rev, body, `+q.sortedBy()+` AS "by" FROM `+
		paged.from+` WHERE `+paged.where+q.order(false)+` LIMIT ? OFFSET ?`, append(paged.args, p.Limit, p.Offset)...)
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		v, err := decode[T](r.row)
		if err != nil {
			return out, err
		}
		out.Items = append(out.Items, v)
	}
	if len(rows) == p.Limit && p.Limit > 0 {
		out.Next = rows[len(rows)-1].at(q).String()
	}
	return out, nil
}

// Around is what stands beside an object in a list.
type Around struct {
	Before *Place `json:"before,omitempty"`
	After  *Place `json:"after,omitempty"`
	Number int    `json:"number" doc:"Its place in the list, from 1; 0 where it is not in it"`
	Total  int    `json:"total"`
}

// Beside finds what stands before and after an object in a list of its kind.
func (s *Store) Beside(ctx context.Context, kind string, id site.ID, p Page) (Around, error) {
	var out Around
	if model.ByWord(kind) == nil {
		return out, ErrMissing
	}
	q, err := asked(kind, p)
	if err != nil {
		return out, err
	}
	if err := s.db.GetContext(ctx, &out.Total, `SELECT count(*) FROM `+q.from+` WHERE `+q.where, q.args...); err != nil {
		return out, err
	}
	var here []listed
	err = s.db.SelectContext(ctx, &here,
		`SELECT objects.id, kind, name, rev, '' AS body, `+q.sortedBy()+` AS "by" FROM `+q.from+
			` WHERE `+q.where+` AND objects.id = ?`, append(slices.Clone(q.args), id)...)
	if err != nil || len(here) == 0 {
		return out, err
	}
	at := here[0].at(q)
	before := q.past(at, true)
	if err := s.db.GetContext(ctx, &out.Number, `SELECT count(*) + 1 FROM `+before.from+` WHERE `+before.where,
		before.args...); err != nil {
		return out, err
	}
	if out.Before, err = s.next(ctx, q, at, true); err != nil {
		return out, err
	}
	out.After, err = s.next(ctx, q, at, false)
	return out, err
}

func (s *Store) next(ctx context.Context, q query, at spot, back bool) (*Place, error) {
	q = q.past(at, back)
	var list []Place
	err := s.db.SelectContext(ctx, &list,
		`SELECT objects.id, kind, name FROM `+q.from+` WHERE `+q.where+q.order(back)+` LIMIT 1`, q.args...)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return &list[0], nil
}

// Names finds objects by their numbers; those that are no more are left out.
func (s *Store) Names(ctx context.Context, ids []site.ID) ([]Place, error) {
	out := []Place{}
	if len(ids) == 0 {
		return out, nil
	}
	query, args, err := sqlx.In(`SELECT id, kind, name FROM objects WHERE id IN (?)`, ids)
	if err != nil {
		return nil, err
	}
	return out, s.db.SelectContext(ctx, &out, query, args...)
}

// Uses counts what points to each of some objects, by the kind of what does.
func (s *Store) Uses(ctx context.Context, ids []site.ID) (map[site.ID]map[string]int, error) {
	out := map[site.ID]map[string]int{}
	if len(ids) == 0 {
		return out, nil
	}
	query, args, err := sqlx.In(`SELECT r.to_id AS id, o.kind AS kind, count(*) AS n FROM refs r JOIN objects o ON o.id = r.from_id
		WHERE r.to_id IN (?) GROUP BY r.to_id, o.kind`, ids)
	if err != nil {
		return nil, err
	}
	var rows []struct {
		ID   site.ID `db:"id"`
		Kind string  `db:"kind"`
		N    int     `db:"n"`
	}
	if err := s.db.SelectContext(ctx, &rows, query, args...); err != nil {
		return nil, err
	}
	for _, r := range rows {
		if out[r.ID] == nil {
			out[r.ID] = map[string]int{}
		}
		out[r.ID][r.Kind] = r.N
	}
	return out, nil
}
