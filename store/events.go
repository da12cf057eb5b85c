package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"reflect"
	"strings"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/cards"
	"amberkeystone/core/pass"
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

	// Of a read, as it stands in the log.
	Bits   string `db:"-" json:"bits,omitempty" doc:"Of a read that fits no format: ones and zeros"`
	Format string `db:"-" json:"format,omitempty" doc:"Of a card: its format"`
	Value  string `db:"-" json:"value,omitempty" doc:"Of a card: its number as people say it"`
}

// read takes from the log's own line what was read.
func (e *Event) read() {
	var f struct {
		Bits, Format, Shown string
		Facility, Number    uint64
	}
	if json.Unmarshal([]byte(e.Raw), &f) != nil {
		return
	}
	e.Bits = f.Bits
	if f.Shown == "" && f.Format != "" {
		e.Format, e.Value = f.Format, cards.Number(f.Format, f.Facility, f.Number)
	}
}

const insertEvent = `INSERT INTO events (controller_id, log, seq, at, stored_at, kind, outcome, reason, door_id, person_id,
	controller, door, person, headline, detail, trace, mend, zone, raw, alarm)
	VALUES (:controller_id, :log, :seq, :at, :stored_at, :kind, :outcome, :reason, :door_id, :person_id,
	:controller, :door, :person, :headline, :detail, :trace, :mend, :zone, :raw, :alarm)
	ON CONFLICT (controller_id, log, seq) DO NOTHING`

// AddEvents stores events, each once however often it comes, and returns those that are new with their IDs. One
// whose place in the log is taken by other contents is kept too, beside the first, with the alarm that clash
// makes of it.
func (s *Store) AddEvents(ctx context.Context, list []Event, clash func(Event) Event) ([]Event, error) {
	var fresh []Event
	err := s.in(ctx, func(tx *writing) error {
		for _, e := range list {
			news, err := addEvent(ctx, tx, e, clash)
			if err != nil {
				return err
			}
			fresh = append(fresh, news...)
		}
		return nil
	})
	return fresh, err
}

func addEvent(ctx context.Context, tx *writing, e Event, clash func(Event) Event) ([]Event, error) {
	added, err := insert(ctx, tx, &e)
	if err != nil {
		return nil, err
	}
	if added {
		return []Event{e}, nil
	}
	var stored string
	err = tx.get(
		ctx,
		&stored,
		`SELECT raw FROM events WHERE controller_id = ? AND log = ? AND seq = ?`,
		e.ControllerID,
		e.Log,
		e.Seq,
	)
	if err != nil || sameJSON(stored, e.Raw) {
		return nil, err
	}
	alarm := clash(e)
	sum := sha256.Sum256([]byte(e.Raw))
	e.Log += "*" + hex.EncodeToString(sum[:6])
	alarm.Log = e.Log + "!"
	var out []Event
	for _, x := range []Event{e, alarm} {
		added, err := insert(ctx, tx, &x)
		if err != nil {
			return nil, err
		}
		if added {
			out = append(out, x)
		}
	}
	return out, nil
}

// insert adds an event unless its place is taken.
func insert(ctx context.Context, tx *writing, e *Event) (added bool, err error) {
	if e.StoredAt == 0 {
		e.StoredAt = now()
	}
	r, err := tx.execNamed(ctx, insertEvent, e)
	if err != nil {
		return false, err
	}
	if n, err := r.RowsAffected(); err != nil || n == 0 {
		return false, err
	}
	if e.ID, err = r.LastInsertId(); err != nil {
		return false, err
	}
	e.read()
	if e.PersonID == 0 || e.Outcome != "granted" {
		return true, nil
	}
	_, err = tx.exec(ctx, `INSERT INTO seen (person_id, at, door_id)
		SELECT id, ?, ? FROM objects WHERE id = ? AND kind = 'person'
		ON CONFLICT (person_id) DO UPDATE SET at = excluded.at, door_id = excluded.door_id WHERE excluded.at > seen.at`,
		e.At, e.DoorID, e.PersonID)
	return true, err
}

// Seen is when and where somebody was let in last.
type Seen struct {
	Person site.ID `db:"person_id" json:"person"`
	At     int64   `db:"at" json:"at" doc:"Unix milliseconds"`
	Door   site.ID `db:"door_id" json:"door"`
}

// LastSeen reads when some people were let in last; those who never were are left out. With no people named it reads
// everybody's.
func (s *Store) LastSeen(ctx context.Context, people ...site.ID) ([]Seen, error) {
	out := []Seen{}
	if len(people) == 0 {
		return out, s.db.SelectContext(ctx, &out, `SELECT person_id, at, door_id FROM seen`)
	}
	query, args, err := sqlx.In(`SELECT person_id, at, door_id FROM seen WHERE person_id IN (?)`, people)
	if err != nil {
		return out, err
	}
	return out, s.db.SelectContext(ctx, &out, query, args...)
}

// sameJSON reports whether two documents say the same, however they are written.
func sameJSON(a, b string) bool {
	var x, y any
	if json.Unmarshal([]byte(a), &x) != nil || json.Unmarshal([]byte(b), &y) != nil {
		return a == b
	}
	return reflect.DeepEqual(x, y)
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
		add(
			`(door LIKE ? ESCAPE '\' OR person LIKE ? ESCAPE '\' OR headline LIKE ? ESCAPE '\' OR detail LIKE ? ESCAPE '\' OR controller LIKE ? ESCAPE '\')`,
			like,
			like,
			like,
			like,
			like,
		)
	}
	if f.Quiet {
		codes := pass.QuietCodes()
		marks := strings.TrimSuffix(strings.Repeat("?, ", len(codes)), ", ")
		list := make([]any, len(codes))
		for i, c := range codes {
			list[i] = c
		}
		add("kind NOT IN ("+marks+")", list...)
	}
	if f.BeforeID != 0 {
		add("(at, id) < (?, ?)", f.Before, f.BeforeID)
	}
	out := []Event{}
	err := s.db.SelectContext(
		ctx,
		&out,
		`SELECT * FROM events WHERE `+strings.Join(where, " AND ")+` ORDER BY at DESC, id DESC LIMIT ?`,
		append(args, f.Limit)...)
	for i := range out {
		out[i].read()
	}
	return out, err
}

// FirstEvent is when the first event came, 0 where there is none.
func (s *Store) FirstEvent(ctx context.Context) (at int64, err error) {
	err = s.db.GetContext(ctx, &at, `SELECT coalesce(min(at), 0) FROM events`)
	return at, err
}

// LogOf reads all that is stored of one log of a controller, in the order in which it was stored.
func (s *Store) LogOf(ctx context.Context, controller site.ID, log string) ([]Event, error) {
	out := []Event{}
	err := s.db.SelectContext(
		ctx,
		&out,
		`SELECT * FROM events WHERE controller_id = ? AND log = ? ORDER BY id`,
		controller,
		log,
	)
	return out, err
}

// Alarms counts the alarms that nobody has acknowledged.
func (s *Store) Alarms(ctx context.Context) (n int, err error) {
	err = s.db.GetContext(ctx, &n, `SELECT count(*) FROM events WHERE alarm = 1 AND acked_at IS NULL`)
	return n, err
}

// Acknowledge marks an alarm as seen by a person. Once is enough; the first stands.
func (s *Store) Acknowledge(ctx context.Context, who string, id int64) (e Event, err error) {
	err = s.in(ctx, func(tx *writing) error {
		if err := tx.get(ctx, &e, `SELECT * FROM events WHERE id = ? AND alarm = 1`, id); err != nil {
			return missing(err)
		}
		if e.AckedAt != nil {
			return nil
		}
		at := now()
		e.AckedAt, e.AckedBy = &at, &who
		if _, err := tx.exec(ctx, `UPDATE events SET acked_at = ?, acked_by = ?
			WHERE id = ?`, at, who, id); err != nil {
			return err
		}
		return audit(ctx, tx, who, "acknowledged", "event", site.ID(0), e.Headline+" at "+e.Door, 0, nil, nil)
	})
	return e, err
}
