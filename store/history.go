package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/site"
)

func audit(
	ctx context.Context,
	tx *sqlx.Tx,
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
	tx *sqlx.Tx,
	who, action, kind string,
	id site.ID,
	name string,
	rev int64,
	was, is, codes *string,
) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO audit (at, who, action, kind, object_id, name, rev, was, now, codes)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, now(), who, action, kind, id, name, rev, was, is, codes)
	return err
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
	Undoable bool    `db:"undoable" json:"undoable" doc:"Nothing has changed the object since"`
	Codes    *string `db:"codes" json:"-"` // the PIN that a removal took away, hashed
}

// History reads the audit trail, newest first; object 0 is everything.
func (s *Store) History(ctx context.Context, object site.ID, limit, offset int) ([]HistoryLine, error) {
	out := []HistoryLine{}
	err := s.db.SelectContext(ctx, &out, `SELECT a.*, (a.was IS NOT NULL OR a.now IS NOT NULL) AND NOT EXISTS
			(SELECT 1 FROM audit b WHERE b.object_id = a.object_id AND b.id > a.id AND (b.was IS NOT NULL OR b.now IS NOT NULL)) AS undoable
		FROM audit a WHERE ? = 0 OR a.object_id = ? ORDER BY a.id DESC LIMIT ? OFFSET ?`, object, object, limit, offset)
	return out, err
}

// Undo turns one change back, provided that nothing has changed the object since.
func (s *Store) Undo(ctx context.Context, who string, id int64) error {
	return s.in(ctx, func(tx *sqlx.Tx) error {
		var e HistoryLine
		if err := tx.GetContext(ctx, &e, `SELECT *, 0 AS undoable FROM audit WHERE id = ?`, id); err != nil {
			return missing(err)
		}
		if e.Was == nil && e.Now == nil {
			return &Taken{"", "this line changed no document, so there is nothing to turn back"}
		}
		var later int
		if err := tx.GetContext(ctx, &later, `SELECT count(*) FROM audit WHERE object_id = ? AND id > ? AND (was IS NOT NULL OR now IS NOT NULL)`, e.ObjectID, e.ID); err != nil {
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
			rev = -1
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

func restore(ctx context.Context, tx *sqlx.Tx, who string, e HistoryLine, rev int64) error {
	switch e.Kind {
	case "settings":
		return again[site.Settings](ctx, tx, who, e, rev)
	case "site":
		return again[site.Site](ctx, tx, who, e, rev)
	case "floor":
		return again[site.Floor](ctx, tx, who, e, rev)
	case "controller":
		return again[site.Controller](ctx, tx, who, e, rev)
	case "door":
		return again[site.Door](ctx, tx, who, e, rev)
	case "holiday type":
		return again[site.HolidayType](ctx, tx, who, e, rev)
	case "holiday":
		return again[site.Holiday](ctx, tx, who, e, rev)
	case "door set":
		return again[site.DoorSet](ctx, tx, who, e, rev)
	case "dated change":
		return again[site.DatedChange](ctx, tx, who, e, rev)
	case "schedule":
		return again[site.Schedule](ctx, tx, who, e, rev)
	case "plan":
		return again[site.Plan](ctx, tx, who, e, rev)
	case "level":
		return again[site.Level](ctx, tx, who, e, rev)
	case "person":
		return again[site.Person](ctx, tx, who, e, rev)
	}
	return fmt.Errorf("no object of kind %q", e.Kind)
}

func again[T any](ctx context.Context, tx *sqlx.Tx, who string, e HistoryLine, rev int64) error {
	var v T
	if err := json.Unmarshal([]byte(*e.Was), &v); err != nil {
		return err
	}
	_, id, _ := Describe(&v)
	*id = e.ObjectID
	_, err := put(ctx, tx, who, "undone", &v, rev)
	return err
}

// Import writes a whole configuration into an empty database, with the numbers it has.
func (s *Store) Import(ctx context.Context, who string, c *site.Config) error {
	return s.in(ctx, func(tx *sqlx.Tx) error {
		var n int
		if err := tx.GetContext(ctx, &n, `SELECT count(*) FROM objects WHERE kind NOT IN ('settings', 'schedule', 'plan', 'holiday type')`); err != nil {
			return err
		}
		if n > 0 {
			return errors.New("this database already holds a configuration; a site file is loaded into an empty one")
		}
		_, err := tx.ExecContext(ctx, `DELETE FROM objects`)
		set := c.Settings
		// Plans, levels and doors point to each other in a circle, so all are written before any points.
		for _, pass := range []bool{false, true} {
			err = errors.Join(
				err,
				putAll(ctx, tx, who, c.Sites, pass),
				putAll(ctx, tx, who, c.Floors, pass),
				putAll(ctx, tx, who, c.Controllers, pass),
				putAll(ctx, tx, who, c.Types, pass),
				putAll(ctx, tx, who, c.Holidays, pass),
				putAll(ctx, tx, who, c.Plans, pass),
				putAll(ctx, tx, who, c.Schedules, pass),
				putAll(ctx, tx, who, c.Doors, pass),
				putAll(ctx, tx, who, c.Levels, pass),
				putAll(ctx, tx, who, c.Sets, pass),
				putAll(ctx, tx, who, c.Changes, pass),
				putAll(ctx, tx, who, c.People, pass),
			)
		}
		if err != nil {
			return err
		}
		if _, err := put(ctx, tx, who, "imported", &set, -1); err != nil { // last, so that it takes none of their numbers
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

// putAll writes a list in the first pass, and what each of it points to in the second.
func putAll[T any](ctx context.Context, tx *sqlx.Tx, who string, list []T, points bool) error {
	for i := range list {
		var err error
		if m, id, _ := Describe(&list[i]); points {
			err = point(ctx, tx, *id, m.Refs)
		} else {
			_, err = write(ctx, tx, who, "imported", &list[i], -1)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// Note writes a line into the audit trail that changes no document.
func (s *Store) Note(ctx context.Context, who, action, kind string, id site.ID, name string) error {
	return s.in(ctx, func(tx *sqlx.Tx) error { return audit(ctx, tx, who, action, kind, id, name, 0, nil, nil) })
}
