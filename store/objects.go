package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/site"
)

// ErrMissing is the answer where there is no such thing.
var ErrMissing = errors.New("it does not exist, or no longer")

// Conflict is the answer to a write that was based on an older revision.
type Conflict struct {
	Kind, Name string
	Rev        int64  // the present one
	By         string // who changed it
}

func (c *Conflict) Error() string {
	return fmt.Sprintf(
		"%s has been changed by %s in the meantime; nothing of yours was written. Load it again and repeat your change",
		c.Name,
		c.By,
	)
}

// Taken is the answer to a value that somebody else has.
type Taken struct{ Field, Words string }

func (t *Taken) Error() string { return t.Words }

// InUse is the answer to removing what others point to.
type InUse struct {
	Name   string
	Places []string
}

func (u *InUse) Error() string {
	return fmt.Sprintf("%s is in use by %s; change those first", u.Name, strings.Join(u.Places, ", "))
}

type row struct {
	ID   site.ID `db:"id"`
	Kind string  `db:"kind"`
	Name string  `db:"name"`
	Rev  int64   `db:"rev"`
	Body string  `db:"body"`
}

// Versioned is an object with its revision.
type Versioned[T any] struct {
	Rev   int64
	Value T
}

// Get reads one object.
func Get[T any](ctx context.Context, s *Store, id site.ID) (v Versioned[T], err error) {
	m, _, _ := Describe(&v.Value)
	var r row
	if err := s.db.GetContext(ctx, &r, `SELECT id, kind, name, rev, body FROM objects WHERE id = ? AND kind = ?`, id, m.Kind); err != nil {
		return v, missing(err)
	}
	return decode[T](r)
}

func decode[T any](r row) (v Versioned[T], err error) {
	v.Rev = r.Rev
	if err := json.Unmarshal([]byte(r.Body), &v.Value); err != nil {
		return v, fmt.Errorf("%s %d: %w", r.Kind, r.ID, err)
	}
	_, id, _ := Describe(&v.Value)
	*id = r.ID
	fill(&v.Value)
	return v, nil
}

// fill turns lists that were never written into empty ones, so that readers need not tell them apart.
func fill(o any) {
	switch o := o.(type) {
	case *site.Schedule:
		for d := range o.Week {
			o.Week[d] = orEmpty(o.Week[d])
		}
	case *site.Plan:
		for d := range o.Week {
			o.Week[d] = orEmpty(o.Week[d])
		}
	case *site.Holiday:
		o.SiteIDs = orEmpty(o.SiteIDs)
	case *site.DoorSet:
		o.DoorIDs = orEmpty(o.DoorIDs)
	case *site.DatedChange:
		o.DoorIDs, o.FloorIDs, o.SiteIDs, o.SetIDs = orEmpty(o.DoorIDs), orEmpty(o.FloorIDs), orEmpty(o.SiteIDs), orEmpty(o.SetIDs)
	case *site.Door:
		if o.FirstCard.Who == "" { // written before doors had one
			o.FirstCard = site.UsualFirstCard()
		}
	case *site.Level:
		o.Entries = orEmpty(o.Entries)
	case *site.Person:
		o.Cards, o.Levels = orEmpty(o.Cards), orEmpty(o.Levels)
	}
}

func orEmpty[T any](list []T) []T {
	if list == nil {
		return []T{}
	}
	return list
}

// Page says which part of a list, and what to look for.
type Page struct {
	Search        string
	Limit, Offset int
}

// List reads a page of a kind in the order of names, and how many there are in all. Search looks at names;
// for people also at departments and card numbers.
func List[T any](ctx context.Context, s *Store, p Page) (out []Versioned[T], total int, err error) {
	var zero T
	m, _, _ := Describe(&zero)
	where, args := `kind = ?`, []any{m.Kind}
	if p.Search != "" {
		like := "%" + escapeLike(p.Search) + "%"
		where += ` AND (name LIKE ? ESCAPE '\'`
		args = append(args, like)
		if m.Kind == "person" {
			where += ` OR json_extract(body, '$.department') LIKE ? ESCAPE '\' OR id IN (SELECT person_id FROM cards WHERE number LIKE ? ESCAPE '\')`
			args = append(args, like, like)
		}
		where += `)`
	}
	if err := s.db.GetContext(ctx, &total, `SELECT count(*) FROM objects WHERE `+where, args...); err != nil {
		return nil, 0, err
	}
	var rows []row
	err = s.db.SelectContext(
		ctx,
		&rows,
		`SELECT id, kind, name, rev, body FROM objects WHERE `+where+` ORDER BY name, id LIMIT ? OFFSET ?`,
		append(args, p.Limit, p.Offset)...)
	if err != nil {
		return nil, 0, err
	}
	out = []Versioned[T]{}
	for _, r := range rows {
		v, err := decode[T](r)
		if err != nil {
			return nil, 0, err
		}
		out = append(out, v)
	}
	return out, total, nil
}

func escapeLike(s string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(s)
}

// Put writes an object: a new one where its ID is 0, else over revision rev. It returns the new revision;
// a new object gets its ID.
func Put[T any](ctx context.Context, s *Store, who string, o *T, rev int64) (int64, error) {
	err := s.in(ctx, func(tx *sqlx.Tx) error {
		var err error
		rev, err = put(ctx, tx, who, "", o, max(rev, 0))
		return err
	})
	return rev, err
}

// PutMany writes objects in one go: all or none. A new one has revision 0 and gets its ID.
func PutMany[T any](ctx context.Context, s *Store, who string, list []Versioned[T]) error {
	return s.in(ctx, func(tx *sqlx.Tx) error {
		for i := range list {
			rev, err := put(ctx, tx, who, "", &list[i].Value, max(list[i].Rev, 0))
			if err != nil {
				return err
			}
			list[i].Rev = rev
		}
		return nil
	})
}

func put[T any](ctx context.Context, tx *sqlx.Tx, who, action string, o *T, rev int64) (int64, error) {
	rev, err := write(ctx, tx, who, action, o, rev)
	if err != nil {
		return 0, err
	}
	m, id, _ := Describe(o)
	return rev, point(ctx, tx, *id, m.Refs)
}

// write writes the object and its line of history, but not what it points to.
func write[T any](ctx context.Context, tx *sqlx.Tx, who, action string, o *T, rev int64) (int64, error) {
	m, id, name := Describe(o)
	if m.Kind == "settings" {
		if err := tx.GetContext(ctx, id, `SELECT coalesce(min(id), 0) FROM objects WHERE kind = 'settings'`); err != nil {
			return 0, err
		}
	}
	var was *string
	if *id != 0 && rev >= 0 {
		var r row
		if err := tx.GetContext(ctx, &r, `SELECT id, kind, name, rev, body FROM objects WHERE id = ? AND kind = ?`, *id, m.Kind); err != nil {
			return 0, missing(err)
		}
		if r.Rev != rev {
			return 0, &Conflict{m.Kind, r.Name, r.Rev, lastEditor(ctx, tx, *id)}
		}
		was = &r.Body
	}
	if err := nameTaken(ctx, tx, m, *id, name); err != nil {
		return 0, err
	}
	known := *id
	*id = 0 // the document does not repeat its number
	body, err := json.Marshal(o)
	*id = known
	if err != nil {
		return 0, err
	}
	next := max(rev, 0) + 1
	if was != nil {
		_, err = tx.ExecContext(
			ctx,
			`UPDATE objects SET scope = ?, name = ?, rev = ?, body = ? WHERE id = ?`,
			m.Scope,
			name,
			next,
			body,
			*id,
		)
	} else {
		// rev -1 brings a removed object back under its old number.
		r, e := tx.ExecContext(ctx, `INSERT INTO objects (id, kind, scope, name, rev, body) VALUES (nullif(?, 0), ?, ?, ?, ?, ?)`, *id, m.Kind, m.Scope, name, next, body)
		if err = e; err == nil {
			n, e := r.LastInsertId()
			*id, err = site.ID(n), e
		}
	}
	if err != nil {
		return 0, err
	}
	if err := side(ctx, tx, o, *id); err != nil {
		return 0, err
	}
	if action == "" {
		action = "added"
		if was != nil {
			action = "changed"
		}
	}
	if err := touch(ctx, tx); err != nil {
		return 0, err
	}
	text := string(body)
	return next, audit(ctx, tx, who, action, m.Kind, *id, name, next, was, &text)
}

func nameTaken(ctx context.Context, tx *sqlx.Tx, m Meta, id site.ID, name string) error {
	var n int
	err := tx.GetContext(
		ctx,
		&n,
		`SELECT count(*) FROM objects WHERE kind = ? AND scope = ? AND name = ? AND id <> ?`,
		m.Kind,
		m.Scope,
		name,
		id,
	)
	if err == nil && n > 0 {
		return &Taken{"name", fmt.Sprintf("there already is a %s named %s; choose another name", m.Kind, name)}
	}
	return err
}

func lastEditor(ctx context.Context, tx *sqlx.Tx, id site.ID) string {
	var who string
	if tx.GetContext(ctx, &who, `SELECT who FROM audit WHERE object_id = ? ORDER BY id DESC LIMIT 1`, id) != nil {
		return "somebody"
	}
	return who
}

// side keeps the tables that make cards and ports unique.
func side(ctx context.Context, tx *sqlx.Tx, o any, id site.ID) error {
	switch o := o.(type) {
	case *site.Person:
		if _, err := tx.ExecContext(ctx, `DELETE FROM cards WHERE person_id = ?`, id); err != nil {
			return err
		}
		for i, c := range o.Cards {
			var owner string
			number := strconv.FormatUint(c.Number, 10)
			err := tx.GetContext(ctx, &owner, `SELECT o.name FROM cards c JOIN objects o ON o.id = c.person_id WHERE c.format = ? AND c.facility = ? AND c.number = ?`, c.Format, c.Facility, number)
			if err == nil {
				return &Taken{fmt.Sprintf("cards[%d].number", i), fmt.Sprintf("card %s already belongs to %s", c, owner)}
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO cards (format, facility, number, person_id) VALUES (?, ?, ?, ?)`, c.Format, c.Facility, number, id); err != nil {
				return err
			}
		}
	case *site.Door:
		if _, err := tx.ExecContext(ctx, `DELETE FROM ports WHERE door_id = ?`, id); err != nil {
			return err
		}
		var other string
		err := tx.GetContext(ctx, &other, `SELECT o.name FROM ports p JOIN objects o ON o.id = p.door_id WHERE p.controller_id = ? AND p.port = ?`, o.ControllerID, o.Port)
		if err == nil {
			return &Taken{"port", fmt.Sprintf("port %d of this controller already drives %s", o.Port, other)}
		}
		r, err := tx.ExecContext(ctx, `INSERT INTO ports (controller_id, port, door_id) SELECT id, ?, ? FROM objects WHERE id = ? AND kind = 'controller'`, o.Port, id, o.ControllerID)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, Ref{"controllerId", "controller", o.ControllerID}.gone())
		}
	}
	return nil
}

// Remove deletes an object that nothing points to.
func Remove[T any](ctx context.Context, s *Store, who string, id site.ID, rev int64) error {
	var zero T
	m, _, _ := Describe(&zero)
	return s.in(ctx, func(tx *sqlx.Tx) error { return remove(ctx, tx, who, "removed", m.Kind, id, rev) })
}

func remove(ctx context.Context, tx *sqlx.Tx, who, action, kind string, id site.ID, rev int64) error {
	var r row
	if err := tx.GetContext(ctx, &r, `SELECT id, kind, name, rev, body FROM objects WHERE id = ? AND kind = ?`, id, kind); err != nil {
		return missing(err)
	}
	if r.Rev != rev {
		return &Conflict{r.Kind, r.Name, r.Rev, lastEditor(ctx, tx, id)}
	}
	places, err := usedBy(ctx, tx, id)
	if err != nil {
		return err
	}
	if len(places) > 0 {
		in := &InUse{Name: r.Name}
		for _, p := range places {
			in.Places = append(in.Places, p.Kind+" "+p.Name)
		}
		return in
	}
	codes, err := codesOf(ctx, tx, id)
	if err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `DELETE FROM objects WHERE id = ?`, id); err != nil {
		return err
	}
	if err := touch(ctx, tx); err != nil {
		return err
	}
	return auditCodes(ctx, tx, who, action, r.Kind, id, r.Name, r.Rev, &r.Body, nil, codes)
}

// Place is an object that points to another.
type Place struct {
	ID   site.ID `db:"id" json:"id"`
	Kind string  `db:"kind" json:"kind"`
	Name string  `db:"name" json:"name"`
}

// UsedBy lists what points to an object.
func (s *Store) UsedBy(ctx context.Context, id site.ID) ([]Place, error) {
	return usedBy(ctx, s.db, id)
}

func usedBy(ctx context.Context, q sqlx.QueryerContext, id site.ID) ([]Place, error) {
	out := []Place{}
	err := sqlx.SelectContext(
		ctx,
		q,
		&out,
		`SELECT o.id, o.kind, o.name FROM refs r JOIN objects o ON o.id = r.from_id WHERE r.to_id = ? ORDER BY o.kind, o.name LIMIT 200`,
		id,
	)
	return out, err
}

// Find looks for objects by name, of any kind.
func (s *Store) Find(ctx context.Context, search string, limit int) ([]Place, error) {
	out := []Place{}
	like := escapeLike(search)
	err := s.db.SelectContext(ctx, &out, `SELECT id, kind, name FROM objects
		WHERE kind <> 'settings' AND (name LIKE ? ESCAPE '\' OR id IN (SELECT person_id FROM cards WHERE number = ?))
		ORDER BY name LIKE ? ESCAPE '\' DESC, name LIMIT ?`, "%"+like+"%", search, like+"%", limit)
	return out, err
}

// Snapshot is the configuration as one commit left it.
type Snapshot struct {
	Commit int64
	Config *site.Config
	Revs   map[site.ID]int64 // of every object
}

// Load reads the whole configuration.
func (s *Store) Load(ctx context.Context) (*site.Config, error) {
	v, err := s.Snapshot(ctx)
	return v.Config, err
}

// Snapshot reads the whole configuration, all of it as of one commit.
func (s *Store) Snapshot(ctx context.Context) (Snapshot, error) {
	v := Snapshot{Config: &site.Config{Settings: site.DefaultSettings()}, Revs: map[site.ID]int64{}}
	tx, err := s.db.BeginTxx(ctx, &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return v, err
	}
	defer func() { _ = tx.Rollback() }() // it has only read
	if err := tx.GetContext(ctx, &v.Commit, `SELECT n FROM commits`); err != nil {
		return v, err
	}
	var rows []row
	if err := tx.SelectContext(ctx, &rows, `SELECT id, kind, name, rev, body FROM objects ORDER BY id`); err != nil {
		return v, err
	}
	for _, r := range rows {
		v.Revs[r.ID] = r.Rev
		if err := collect(v.Config, r); err != nil {
			return v, err
		}
	}
	return v, attachCodes(ctx, tx, v.Config)
}

func collect(c *site.Config, r row) (err error) {
	switch r.Kind {
	case "settings":
		err = json.Unmarshal([]byte(r.Body), &c.Settings)
	case "site":
		err = push(&c.Sites, r)
	case "floor":
		err = push(&c.Floors, r)
	case "controller":
		err = push(&c.Controllers, r)
	case "door":
		err = push(&c.Doors, r)
	case "holiday type":
		err = push(&c.Types, r)
	case "holiday":
		err = push(&c.Holidays, r)
	case "door set":
		err = push(&c.Sets, r)
	case "dated change":
		err = push(&c.Changes, r)
	case "schedule":
		err = push(&c.Schedules, r)
	case "plan":
		err = push(&c.Plans, r)
	case "level":
		err = push(&c.Levels, r)
	case "person":
		err = push(&c.People, r)
	}
	return err
}

func push[T any](list *[]T, r row) error {
	v, err := decode[T](r)
	*list = append(*list, v.Value)
	return err
}
