package store

import (
	"context"
	"strings"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/site"
)

// Event is a stored event with the words and names of the day on which it came.
type Event struct {
	ID           int64   `db:"id" json:"id"`
	ControllerID site.ID `db:"controller_id" json:"controllerId"`
	Log          string  `db:"log" json:"-"`
	Seq          uint64  `db:"seq" json:"seq"`
	At           int64   `db:"at" json:"at" doc:"By the controller's clock; Unix milliseconds"`
	StoredAt     int64   `db:"stored_at" json:"storedAt" doc:"When it reached the server; Unix milliseconds"`
	Kind         string  `db:"kind" json:"kind"`
	Outcome      string  `db:"outcome" json:"outcome" enum:"granted,refused,alarm,door,system"`
	Reason       string  `db:"reason" json:"reason"`
	DoorID       site.ID `db:"door_id" json:"doorId"`
	PersonID     site.ID `db:"person_id" json:"personId"`
	Controller   string  `db:"controller" json:"controller"`
	Door         string  `db:"door" json:"door"`
	Person       string  `db:"person" json:"person"`
	Headline     string  `db:"headline" json:"headline"`
	Detail       string  `db:"detail" json:"detail"`
	Trace        string  `db:"trace" json:"trace" doc:"The checks that were made, a JSON list"`
	Mend         string  `db:"mend" json:"mend"`
	Zone         string  `db:"zone" json:"zone"`
	Raw          string  `db:"raw" json:"-"`
	Alarm        bool    `db:"alarm" json:"alarm"`
	AckedAt      *int64  `db:"acked_at" json:"ackedAt"`
	AckedBy      *string `db:"acked_by" json:"ackedBy"`
}

// AddEvents stores events, each once however often it comes, and returns those that are new with their IDs.
func (s *Store) AddEvents(ctx context.Context, list []Event) ([]Event, error) {
	var fresh []Event
	err := s.in(ctx, func(tx *sqlx.Tx) error {
		for _, e := range list {
			if e.StoredAt == 0 {
				e.StoredAt = now()
			}
			r, err := tx.NamedExecContext(ctx, `INSERT INTO events (controller_id, log, seq, at, stored_at, kind, outcome, reason, door_id, person_id,
				controller, door, person, headline, detail, trace, mend, zone, raw, alarm)
				VALUES (:controller_id, :log, :seq, :at, :stored_at, :kind, :outcome, :reason, :door_id, :person_id,
				:controller, :door, :person, :headline, :detail, :trace, :mend, :zone, :raw, :alarm)
				ON CONFLICT (controller_id, log, seq) DO NOTHING`, e)
			if err != nil {
				return err
			}
			if n, err := r.RowsAffected(); err != nil || n == 0 {
				if err != nil {
					return err
				}
				continue
			}
			if e.ID, err = r.LastInsertId(); err != nil {
				return err
			}
			fresh = append(fresh, e)
		}
		return nil
	})
	return fresh, err
}

// EventFilter chooses events; zero fields choose all.
type EventFilter struct {
	Door, Person site.ID
	Outcome      string
	Search       string
	Quiet        bool  // leave out what only tells that a door opened, closed or changed its mode
	Before       int64 // only those before this place in the list
	BeforeID     int64
	Limit        int
}

// Events reads events, newest first by the controllers' clocks.
func (s *Store) Events(ctx context.Context, f EventFilter) ([]Event, error) {
	where, args := []string{"1"}, []any{}
	add := func(cond string, v ...any) { where, args = append(where, cond), append(args, v...) }
	if f.Door != 0 {
		add("door_id = ?", f.Door)
	}
	if f.Person != 0 {
		add("person_id = ?", f.Person)
	}
	if f.Outcome != "" {
		add("outcome = ?", f.Outcome)
	}
	if f.Search != "" {
		like := "%" + escapeLike(f.Search) + "%"
		add(`(door LIKE ? ESCAPE '\' OR person LIKE ? ESCAPE '\' OR headline LIKE ? ESCAPE '\' OR detail LIKE ? ESCAPE '\' OR controller LIKE ? ESCAPE '\')`, like, like, like, like, like)
	}
	if f.Quiet {
		add(`kind NOT IN ('opened', 'closed', 'mode', 'entered', 'exit-request')`)
	}
	if f.BeforeID != 0 {
		add("(at, id) < (?, ?)", f.Before, f.BeforeID)
	}
	out := []Event{}
	err := s.db.SelectContext(ctx, &out, `SELECT * FROM events WHERE `+strings.Join(where, " AND ")+` ORDER BY at DESC, id DESC LIMIT ?`, append(args, f.Limit)...)
	return out, err
}

// Alarms counts the alarms that nobody has acknowledged.
func (s *Store) Alarms(ctx context.Context) (n int, err error) {
	err = s.db.GetContext(ctx, &n, `SELECT count(*) FROM events WHERE alarm = 1 AND acked_at IS NULL`)
	return n, err
}

// Acknowledge marks an alarm as seen by a person. Once is enough; the first stands.
func (s *Store) Acknowledge(ctx context.Context, who string, id int64) (e Event, err error) {
	err = s.in(ctx, func(tx *sqlx.Tx) error {
		if err := tx.GetContext(ctx, &e, `SELECT * FROM events WHERE id = ? AND alarm = 1`, id); err != nil {
			return missing(err)
		}
		if e.AckedAt != nil {
			return nil
		}
		at := now()
		e.AckedAt, e.AckedBy = &at, &who
		if _, err := tx.ExecContext(ctx, `UPDATE events SET acked_at = ?, acked_by = ? WHERE id = ?`, at, who, id); err != nil {
			return err
		}
		return audit(ctx, tx, who, "acknowledged", "event", site.ID(0), e.Headline+" at "+e.Door, 0, nil, nil)
	})
	return e, err
}

// Link is how a controller is reached, and when something was last sent to it.
type Link struct {
	ControllerID site.ID `db:"controller_id"`
	Address      string  `db:"address"`
	Key          []byte  `db:"key"`
	Hash         string  `db:"hash"` // of what was sent
	SentAt       *int64  `db:"sent_at"`
	Wanted       bool    `db:"wanted"` // somebody asked to send while it was off the network
}

// Sent is what was last sent to a controller, with the names that things had then.
type Sent struct {
	Image []byte `db:"image"`
	Names string `db:"names"`
}

// Links reads every controller's link.
func (s *Store) Links(ctx context.Context) ([]Link, error) {
	var out []Link
	err := s.db.SelectContext(ctx, &out, `SELECT controller_id, address, key, hash, sent_at, wanted FROM links`)
	return out, err
}

// Sent reads what was last sent to a controller; nothing where nothing was.
func (s *Store) Sent(ctx context.Context, id site.ID) (Sent, error) {
	var out Sent
	err := s.db.GetContext(ctx, &out, `SELECT image, names FROM links WHERE controller_id = ?`, id)
	return out, missing(err)
}

// TakeIntoService adds a controller and its link in one step.
func (s *Store) TakeIntoService(ctx context.Context, who string, c *site.Controller, address string, key []byte) (rev int64, err error) {
	err = s.in(ctx, func(tx *sqlx.Tx) error {
		if c.ID == 0 {
			if rev, err = put(ctx, tx, who, "taken into service", c, 0); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO links (controller_id, address, key) VALUES (?, ?, ?)
			ON CONFLICT (controller_id) DO UPDATE SET address = excluded.address, key = excluded.key, image = NULL, hash = '', names = '{}', sent_at = NULL, wanted = 0`,
			c.ID, address, key)
		return err
	})
	return rev, err
}

// SetSent records what a controller holds now.
func (s *Store) SetSent(ctx context.Context, who string, id site.ID, name string, image []byte, hash, names string) error {
	return s.in(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `UPDATE links SET image = ?, hash = ?, names = ?, sent_at = ?, wanted = 0 WHERE controller_id = ?`, image, hash, names, now(), id); err != nil {
			return err
		}
		return audit(ctx, tx, who, "sent", "controller", id, name, 0, nil, nil)
	})
}

// SetWanted remembers that a controller gets its image when it returns.
func (s *Store) SetWanted(ctx context.Context, id site.ID, wanted bool) error {
	return s.in(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `UPDATE links SET wanted = ? WHERE controller_id = ?`, wanted, id)
		return err
	})
}
