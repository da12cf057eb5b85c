package store

import (
	"context"
	"errors"
	"fmt"

	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

func audit(
	ctx context.Context,
	tx *writing,
	who, action, kind string,
	id site.ID,
	name string,
	rev int64,
	was, is *string,
) error {
	return auditCodes(ctx, tx, who, action, kind, id, name, rev, was, is, nil)
}

// auditCodes is audit of a removal that takes a PIN away with it.
func auditCodes(
	ctx context.Context,
	tx *writing,
	who, action, kind string,
	id site.ID,
	name string,
	rev int64,
	was, is, codes *string,
) error {
	_, err := tx.exec(ctx, `INSERT INTO audit (at, who, action, kind, object_id, name, rev, was, now, codes, effect)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, now(), who, action, kind, id, name, rev, was, is, codes, effectOf(ctx))
	return err
}

type effectKey struct{}

// WithEffect lets the lines of history of a write say what the change does, in the words that were shown before it.
func WithEffect(ctx context.Context, words string) context.Context {
	return context.WithValue(ctx, effectKey{}, words)
}

func effectOf(ctx context.Context) string {
	words, _ := ctx.Value(effectKey{}).(string)
	return words
}

// HistoryLine is a line of the audit trail.
type HistoryLine struct {
	ID       int64   `db:"id" json:"id"`
	At       int64   `db:"at" json:"at" doc:"Unix milliseconds"`
	Who      string  `db:"who" json:"who"`
	Action   string  `db:"action" json:"action"`
	Kind     string  `db:"kind" json:"kind"`
	ObjectID site.ID `db:"object_id" json:"objectId"`
	Name     string  `db:"name" json:"name"`
	Rev      int64   `db:"rev" json:"rev"`
	Was      *string `db:"was" json:"was" doc:"The document before, as JSON"`
	Now      *string `db:"now" json:"now" doc:"The document after, as JSON"`
	Effect   string  `db:"effect" json:"effect,omitempty" doc:"What the change did, as it was shown before it was saved"`
	Undoable bool    `db:"undoable" json:"undoable" doc:"Nothing has changed the object since"`
	Codes    *string `db:"codes" json:"-"` // the PIN that a removal took away, hashed
}

// HistoryFilter says which part of the audit trail.
type HistoryFilter struct {
	Object site.ID // 0: of everything
	Kind   string  // empty: of every kind
	Search string  // in names, of objects and of who did it
	Before int64   // only lines older than this one; 0: from the newest
	Limit  int
	Offset int
}

// History reads the audit trail, newest first.
func (s *Store) History(ctx context.Context, f HistoryFilter) ([]HistoryLine, error) {
	out := []HistoryLine{}
	like := "%" + escapeLike(f.Search) + "%"
	err := s.db.SelectContext(ctx, &out, `SELECT a.*, (a.was IS NOT NULL OR a.now IS NOT NULL) AND NOT EXISTS
			(SELECT 1 FROM audit b WHERE b.object_id = a.object_id AND b.id > a.id AND (b.was IS NOT NULL OR b.now IS NOT NULL)) AS undoable
		FROM audit a WHERE (?1 = 0 OR a.object_id = ?1) AND (?2 = '' OR a.kind = ?2) AND (?3 = 0 OR a.id < ?3)
			AND (?4 = '%%' OR a.name LIKE ?4 ESCAPE '\' OR a.who LIKE ?4 ESCAPE '\' OR a.action LIKE ?4 ESCAPE '\')
		ORDER BY a.id DESC LIMIT ?5 OFFSET ?6`, f.Object, f.Kind, f.Before, like, f.Limit, f.Offset)
	return out, err
}

// FirstChange is when something was changed first after a moment, 0 where nothing was.
func (s *Store) FirstChange(ctx context.Context, after int64) (at int64, err error) {
	err = s.db.GetContext(ctx, &at,
		`SELECT coalesce(min(at), 0) FROM audit WHERE at > ? AND (was IS NOT NULL OR now IS NOT NULL)`, after)
	return at, err
}

// HistoryOf reads one line of the audit trail, or ErrMissing.
func (s *Store) HistoryOf(ctx context.Context, id int64) (l HistoryLine, err error) {
	err = s.db.GetContext(ctx, &l, `SELECT *, 0 AS undoable FROM audit WHERE id = ?`, id)
	return l, missing(err)
}

// Undo turns one change back, provided that nothing has changed the object since.
func (s *Store) Undo(ctx context.Context, who string, id int64) error {
	return s.in(ctx, func(tx *writing) error {
		var e HistoryLine
		if err := tx.get(ctx, &e, `SELECT *, 0 AS undoable FROM audit WHERE id = ?`, id); err != nil {
			return missing(err)
		}
		if e.Was == nil && e.Now == nil {
			return &Taken{"", "this line changed no document, so there is nothing to turn back"}
		}
		var later int
		if err := tx.get(ctx, &later, `SELECT count(*) FROM audit WHERE object_id = ? AND id > ?
			AND (was IS NOT NULL OR now IS NOT NULL)`, e.ObjectID, e.ID); err != nil {
			return err
		}
		if later > 0 {
			return &Taken{"", e.Name + " has been changed since; undo the later change first"}
		}
		if e.Was == nil {
			return remove(ctx, tx, who, "undone", e.Kind, e.ObjectID, e.Rev)
		}
		rev := e.Rev
		if e.Now == nil {
			rev = back
		}
		if err := restore(ctx, tx, who, e, rev); err != nil {
			return err
		}
		if e.Now != nil {
			return nil
		}
		return bringBack(ctx, tx, e.ObjectID, e.Name, e.Codes)
	})
}

// restore writes the document that a line of history had before.
func restore(ctx context.Context, tx *writing, who string, e HistoryLine, rev int64) error {
	k := model.ByWord(e.Kind)
	if k == nil {
		return fmt.Errorf("no object of kind %q", e.Kind)
	}
	o, err := k.Decode(e.ObjectID, []byte(*e.Was))
	if err != nil {
		return err
	}
	_, err = tx.put(ctx, who, "undone", o, rev)
	return err
}

// Import writes a whole configuration into an empty database, with the numbers it has.
func (s *Store) Import(ctx context.Context, who string, c *site.Config) error {
	return s.in(ctx, func(tx *writing) error {
		var n int
		if err := tx.get(ctx, &n, `SELECT count(*) FROM objects
			WHERE kind NOT IN ('settings', 'schedule', 'plan', 'holiday type')`); err != nil {
			return err
		}
		if n > 0 {
			return errors.New("this database already holds a configuration; a site file is loaded into an empty one")
		}
		for _, all := range []string{`DELETE FROM objects`, `DELETE FROM search`} {
			if _, err := tx.exec(ctx, all); err != nil {
				return err
			}
		}
		tx.whole = true
		if err := tx.putAll(ctx, who, c); err != nil {
			return err
		}
		set := c.Settings
		if _, err := tx.put(ctx, who, "imported", &set, back); err != nil { // last, so that it takes none of their numbers
			return err
		}
		for _, p := range c.People {
			if p.PIN == nil || p.Duress == nil {
				continue
			}
			if err := addCodes(ctx, tx, p.ID, p.PIN, p.Duress, p.PINLength); err != nil {
				return fmt.Errorf("%s: %w", p.Name, err)
			}
		}
		return nil
	})
}

// putAll writes all objects. They point to each other in circles, so all are written before any points.
func (tx *writing) putAll(ctx context.Context, who string, c *site.Config) error {
	for _, points := range []bool{false, true} {
		for _, k := range model.Kinds {
			if k.Word() == "settings" {
				continue
			}
			for _, o := range k.Objects(c) {
				var err error
				if points {
					err = point(ctx, tx, *k.ID(o), k.Refs(o), true)
				} else {
					_, err = tx.write(ctx, who, "imported", o, back)
				}
				if err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// Note writes a line into the audit trail that changes no document.
func (s *Store) Note(ctx context.Context, who, action, kind string, id site.ID, name string) error {
	return s.in(ctx, func(tx *writing) error { return audit(ctx, tx, who, action, kind, id, name, 0, nil, nil) })
}
