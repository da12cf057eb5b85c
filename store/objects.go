package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/model"
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
	// Section is what lists are sorted by that stands in other objects: of people the names of their departments.
	Section string `db:"section"`
}

// Versioned is an object with its revision.
type Versioned[T any] struct {
	Rev   int64
	Value T
}

// Get reads one object.
func Get[T any](ctx context.Context, s *Store, id site.ID) (v Versioned[T], err error) {
	k := model.Of(&v.Value)
	var r row
	if err := s.db.GetContext(ctx, &r, `SELECT id, kind, name, rev, body FROM objects WHERE id = ?
		AND kind = ?`, id, k.Word()); err != nil {
		return v, missing(err)
	}
	return decode[T](r)
}

func decode[T any](r row) (v Versioned[T], err error) {
	o, err := model.Of(&v.Value).Decode(r.ID, []byte(r.Body))
	if err != nil {
		return v, err
	}
	return Versioned[T]{r.Rev, *o.(*T)}, nil
}

func escapeLike(s string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(s)
}

// Put writes an object: a new one where its ID is 0, else over revision rev. It returns the new revision;
// a new object gets its ID.
func Put[T any](ctx context.Context, s *Store, who string, o *T, rev int64) (int64, error) {
	err := s.in(ctx, func(tx *writing) error {
		var err error
		rev, err = tx.put(ctx, who, "", o, max(rev, 0))
		return err
	})
	return rev, err
}

// PutMany writes objects in one go: all or none. A new one has revision 0 and gets its ID.
func PutMany[T any](ctx context.Context, s *Store, who string, list []Versioned[T]) error {
	return s.in(ctx, func(tx *writing) error {
		for i := range list {
			rev, err := tx.put(ctx, who, "", &list[i].Value, max(list[i].Rev, 0))
			if err != nil {
				return err
			}
			list[i].Rev = rev
		}
		return nil
	})
}

// PutTogether writes objects of any kinds in one go, in their order: all or none. Each is asked for when its turn
// comes, so that it can name those before it by their numbers; a new one, given as a pointer, has revision 0.
func (s *Store) PutTogether(ctx context.Context, who string, list ...func() (object any, rev int64)) error {
	return s.in(ctx, func(tx *writing) error {
		for _, next := range list {
			o, rev := next()
			if _, err := tx.put(ctx, who, "", o, max(rev, 0)); err != nil {
				return err
			}
		}
		return nil
	})
}

// back is the revision under which a removed object comes back with its old number.
const back = -1

// put writes an object, given as a pointer, with its line of history and what it points to.
func (tx *writing) put(ctx context.Context, who, action string, o any, rev int64) (int64, error) {
	rev, err := tx.write(ctx, who, action, o, rev)
	if err != nil {
		return 0, err
	}
	k := model.Of(o)
	return rev, point(ctx, tx, *k.ID(o), k.Refs(o), rev == 1)
}

// write writes the object and its line of history, but not what it points to.
func (tx *writing) write(ctx context.Context, who, action string, o any, rev int64) (int64, error) {
	k := model.Of(o)
	id, name := k.ID(o), k.Name(o)
	if k.Word() == "settings" {
		if err := tx.get(ctx, id, `SELECT coalesce(min(id), 0) FROM objects
			WHERE kind = 'settings'`); err != nil {
			return 0, err
		}
	}
	was, err := tx.expect(ctx, k, *id, rev)
	if err != nil {
		return 0, err
	}
	if err := tx.nameTaken(ctx, k, o, *id); err != nil {
		return 0, err
	}
	body, err := document(o, id)
	if err != nil {
		return 0, err
	}
	next, fresh := max(rev, 0)+1, was == nil
	section, err := tx.section(ctx, o)
	if err != nil {
		return 0, err
	}
	if err := tx.keep(ctx, k, o, id, fresh, row{Rev: next, Body: string(body), Section: section}); err != nil {
		return 0, err
	}
	if beside := besides[k.Word()]; beside != nil {
		if err := beside(ctx, tx, o, fresh); err != nil {
			return 0, err
		}
	}
	if err := tx.index(ctx, k, o, section, fresh); err != nil {
		return 0, err
	}
	if action == "" {
		action = "added"
		if was != nil {
			action = "changed"
		}
	}
	stored, err := k.Decode(*id, body)
	if err != nil {
		return 0, err
	}
	tx.touch(model.Change{Kind: k, ID: *id, Rev: next, Object: stored})
	text := string(body)
	return next, audit(ctx, tx, who, action, k.Word(), *id, name, next, was, &text)
}

// keep writes the row of an object; a new one gets its number. The settings do not carry theirs: id is where it stands.
func (tx *writing) keep(ctx context.Context, k model.Kind, o any, id *site.ID, fresh bool, w row) error {
	if !fresh {
		r, err := tx.exec(ctx, `UPDATE objects SET scope = ?, name = ?, rev = ?, body = ?, section = ? WHERE id = ?`,
			k.Scope(o), k.Name(o), w.Rev, []byte(w.Body), w.Section, *id)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n != 1 {
			return errors.Join(err, fmt.Errorf("%s %d: %d rows were written, not one", k.Word(), *id, n))
		}
		return nil
	}
	r, err := tx.exec(ctx, `INSERT INTO objects (id, kind, scope, name, rev, body, section)
		VALUES (nullif(?, 0), ?, ?, ?, ?, ?, ?)`, *id, k.Word(), k.Scope(o), k.Name(o), w.Rev, []byte(w.Body), w.Section)
	if err != nil {
		return err
	}
	n, err := r.LastInsertId()
	if err != nil {
		return err
	}
	*id = site.ID(n)
	if k.Scope(o) != 0 { // of those that are a scope of their own it is known now
		_, err = tx.exec(ctx, `UPDATE objects SET scope = ? WHERE id = ?`, k.Scope(o), *id)
	}
	return err
}

// expect returns the document that is written over, nil where there is none, and refuses one of another revision.
func (tx *writing) expect(ctx context.Context, k model.Kind, id site.ID, rev int64) (*string, error) {
	if id == 0 || rev == back {
		return nil, nil
	}
	var r row
	if err := tx.get(ctx, &r, `SELECT id, kind, name, rev, body FROM objects WHERE id = ?
		AND kind = ?`, id, k.Word()); err != nil {
		return nil, missing(err)
	}
	if r.Rev != rev {
		return nil, &Conflict{k.Word(), r.Name, r.Rev, lastEditor(ctx, tx, id)}
	}
	return &r.Body, nil
}

// document writes an object without its number, which stands beside it.
func document(o any, id *site.ID) ([]byte, error) {
	known := *id
	*id = 0
	body, err := json.Marshal(o)
	*id = known
	return body, err
}

func (tx *writing) nameTaken(ctx context.Context, k model.Kind, o any, id site.ID) error {
	var n int
	err := tx.get(
		ctx, &n, `SELECT count(*) FROM objects WHERE kind = ? AND scope = ? AND name = ? AND id <> ?`,
		k.Word(), k.Scope(o), k.Name(o), id)
	if err == nil && n > 0 {
		return &Taken{"name", fmt.Sprintf("there already is a %s named %s; choose another name", k.Word(), k.Name(o))}
	}
	return err
}

func lastEditor(ctx context.Context, tx *writing, id site.ID) string {
	var who string
	if tx.get(ctx, &who, `SELECT who FROM audit WHERE object_id = ? ORDER BY id DESC LIMIT 1`, id) != nil {
		return "somebody"
	}
	return who
}

// besides keeps the tables that stand beside the documents of a kind: they make cards and ports unique. A fresh one has
// nothing in them yet.
var besides = map[string]func(ctx context.Context, tx *writing, o any, fresh bool) error{
	"person": func(ctx context.Context, tx *writing, o any, fresh bool) error {
		return tx.cards(ctx, o.(*site.Person), fresh)
	},
	"department": func(ctx context.Context, tx *writing, o any, _ bool) error {
		return tx.department(ctx, o.(*site.Department))
	},
	"free card": func(ctx context.Context, tx *writing, o any, _ bool) error {
		return tx.freeCard(ctx, o.(*site.FreeCard))
	},
	"door": func(ctx context.Context, tx *writing, o any, _ bool) error {
		return tx.port(ctx, o.(*site.Door))
	},
}

// section is, of a person, the names of their departments, as lists show them and are sorted.
func (tx *writing) section(ctx context.Context, o any) (string, error) {
	p, ok := o.(*site.Person)
	if !ok {
		return "", nil
	}
	var names []string
	for _, id := range p.DepartmentIDs {
		var name string
		err := tx.get(ctx, &name, `SELECT name FROM objects WHERE id = ? AND kind = 'department'`, id)
		if errors.Is(err, sql.ErrNoRows) {
			continue // point says so
		}
		if err != nil {
			return "", err
		}
		names = append(names, name)
	}
	return strings.Join(names, ", "), nil
}

// department lets its members be found and sorted by its name.
func (tx *writing) department(ctx context.Context, d *site.Department) error {
	var members []row
	if err := tx.list(ctx, &members, `SELECT o.id, o.kind, o.name, o.rev, o.body FROM refs r
		JOIN objects o ON o.id = r.from_id WHERE r.to_id = ? AND o.kind = 'person'`, d.ID); err != nil {
		return err
	}
	k := model.ByWord("person")
	for _, r := range members {
		o, err := k.Decode(r.ID, []byte(r.Body))
		if err != nil {
			return err
		}
		section, err := tx.section(ctx, o)
		if err != nil {
			return err
		}
		res, err := tx.exec(ctx, `UPDATE objects SET section = ? WHERE id = ? AND section <> ?`, section, r.ID, section)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			if err != nil {
				return err
			}
			continue
		}
		if err := tx.index(ctx, k, o, section, false); err != nil {
			return err
		}
	}
	return nil
}

func (tx *writing) port(ctx context.Context, d *site.Door) error {
	if _, err := tx.exec(ctx, `DELETE FROM ports WHERE door_id = ?`, d.ID); err != nil {
		return err
	}
	var other string
	err := tx.get(
		ctx,
		&other,
		`SELECT o.name FROM ports p JOIN objects o ON o.id = p.door_id WHERE p.controller_id = ? AND p.port = ?`,
		d.ControllerID,
		d.Port,
	)
	if err == nil {
		return &Taken{"port", fmt.Sprintf("port %d of this controller already drives %s", d.Port, other)}
	}
	r, err := tx.exec(
		ctx,
		`INSERT INTO ports (controller_id, port, door_id) SELECT id, ?, ? FROM objects WHERE id = ?
			AND kind = 'controller'`,
		d.Port,
		d.ID,
		d.ControllerID,
	)
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, gone(model.Ref{Field: "controllerId", Kind: "controller", ID: d.ControllerID}))
	}
	return nil
}

// Remove deletes an object that nothing points to.
func Remove[T any](ctx context.Context, s *Store, who string, id site.ID, rev int64) error {
	kind := model.Of(new(T)).Word()
	return s.in(ctx, func(tx *writing) error { return remove(ctx, tx, who, "removed", kind, id, rev) })
}

func remove(ctx context.Context, tx *writing, who, action, kind string, id site.ID, rev int64) error {
	var r row
	if err := tx.get(ctx, &r, `SELECT id, kind, name, rev, body FROM objects WHERE id = ?
		AND kind = ?`, id, kind); err != nil {
		return missing(err)
	}
	if r.Rev != rev {
		return &Conflict{r.Kind, r.Name, r.Rev, lastEditor(ctx, tx, id)}
	}
	places, err := usedBy(ctx, tx.tx, id)
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
	if _, err := tx.exec(ctx, `DELETE FROM objects WHERE id = ?`, id); err != nil {
		return err
	}
	if _, err := tx.exec(ctx, `DELETE FROM search WHERE rowid = ?`, id); err != nil {
		return err
	}
	delete(tx.found, id)
	tx.touch(model.Change{Kind: model.ByWord(kind), ID: id})
	return auditCodes(ctx, tx, who, action, r.Kind, id, r.Name, r.Rev, &r.Body, nil, codes)
}

// Place is an object that points to another.
type Place struct {
	ID   site.ID `db:"id" json:"id"`
	Kind string  `db:"kind" json:"kind"`
	Name string  `db:"name" json:"name"`
	Hint string  `db:"hint" json:"hint,omitempty" doc:"What tells it from others of that name: of a person their departments and number"`
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
		`SELECT o.id, o.kind, o.name FROM refs r JOIN objects o ON o.id = r.from_id WHERE r.to_id = ?
			ORDER BY o.kind, o.name LIMIT 200`,
		id,
	)
	return out, err
}

// Find looks for objects by name, of any kind.
func (s *Store) Find(ctx context.Context, search string, limit int) ([]Place, error) {
	out := []Place{}
	from, found, args := matches(search)
	err := s.db.SelectContext(ctx, &out, `SELECT id, kind, name, `+hint+` FROM `+from+` WHERE kind <> 'settings' AND `+found+`
		ORDER BY name LIKE ? ESCAPE '\' DESC, name, kind, id LIMIT ?`, append(args, escapeLike(search)+"%", limit)...)
	return out, err
}

// hint tells people of one name apart.
const hint = `CASE WHEN kind = 'person' AND json_valid(body) THEN trim(section || coalesce(', no. ' || json_extract(body, '$.number'), ''), ', ')
	ELSE '' END AS hint`

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
		k := model.ByWord(r.Kind)
		if k == nil {
			continue // of a newer version
		}
		o, err := k.Decode(r.ID, []byte(r.Body))
		if err != nil {
			return v, err
		}
		k.Append(v.Config, o)
	}
	return v, attachCodes(ctx, tx, v.Config)
}
