package store

import "context"

// Written is something that a reaction wrote to the stand-in mailbox, or marked in the recording of a stand-in camera.
type Written struct {
	ID       int64  `db:"id" json:"id"`
	At       int64  `db:"at" json:"at" doc:"Unix milliseconds"`
	Kind     string `db:"kind" json:"kind" enum:"mail,camera"`
	Whom     string `db:"whom" json:"whom" doc:"The address, or the camera"`
	Words    string `db:"words" json:"words"`
	Reaction string `db:"reaction" json:"reaction"`
	EventID  int64  `db:"event_id" json:"eventId" doc:"Because of which; 0: of none"`
}

// mostLines is how many of each are kept.
const mostLines = 2000

// AddLine keeps a line.
func (s *Store) AddLine(ctx context.Context, l Written) error {
	return s.in(ctx, func(tx *writing) error {
		if _, err := tx.execNamed(ctx, `INSERT INTO lines (at, kind, whom, words, reaction, event_id)
			VALUES (:at, :kind, :whom, :words, :reaction, :event_id)`, l); err != nil {
			return err
		}
		_, err := tx.exec(ctx, `DELETE FROM lines WHERE id <= (SELECT max(id) FROM lines) - ?`, mostLines)
		return err
	})
}

// Lines lists the newest lines.
func (s *Store) Lines(ctx context.Context, limit int) ([]Written, error) {
	list := []Written{}
	err := s.db.SelectContext(ctx, &list,
		`SELECT id, at, kind, whom, words, reaction, event_id FROM lines ORDER BY id DESC LIMIT ?`, limit)
	return list, err
}

// Call is a request to an allowed address, with how far it is.
type Call struct {
	ID       int64  `db:"id" json:"id"`
	At       int64  `db:"at" json:"at" doc:"When it was set off, Unix milliseconds"`
	Address  string `db:"address" json:"address" doc:"The name of the address"`
	URL      string `db:"url" json:"url"`
	Body     string `db:"body" json:"body"`
	Reaction string `db:"reaction" json:"reaction"`
	Tries    int    `db:"tries" json:"tries"`
	Next     int64  `db:"next_at" json:"next" doc:"When it is tried next, Unix milliseconds; 0: no more"`
	Answer   string `db:"answer" json:"answer" doc:"What came of the last try"`
}

const callColumns = `id, at, address, url, body, reaction, tries, next_at, answer`

// AddCall keeps a call that is to be made, and returns its number.
func (s *Store) AddCall(ctx context.Context, c Call) (id int64, err error) {
	err = s.in(ctx, func(tx *writing) error {
		r, err := tx.execNamed(ctx, `INSERT INTO calls (at, address, url, body, reaction, tries, next_at, answer)
			VALUES (:at, :address, :url, :body, :reaction, :tries, :next_at, :answer)`, c)
		if err != nil {
			return err
		}
		if id, err = r.LastInsertId(); err != nil {
			return err
		}
		_, err = tx.exec(ctx, `DELETE FROM calls WHERE id <= (SELECT max(id) FROM calls) - ?`, mostLines)
		return err
	})
	return id, err
}

// SetCall keeps how far a call is.
func (s *Store) SetCall(ctx context.Context, c Call) error {
	return s.in(ctx, func(tx *writing) error {
		_, err := tx.execNamed(ctx, `UPDATE calls SET tries = :tries, next_at = :next_at, answer = :answer WHERE id = :id`, c)
		return err
	})
}

// Calls lists the newest calls.
func (s *Store) Calls(ctx context.Context, limit int) ([]Call, error) {
	list := []Call{}
	err := s.db.SelectContext(ctx, &list, `SELECT `+callColumns+` FROM calls ORDER BY id DESC LIMIT ?`, limit)
	return list, err
}

// DueCalls lists the calls that are to be tried by an instant: of each address the earliest.
func (s *Store) DueCalls(ctx context.Context, now int64) ([]Call, error) {
	list := []Call{}
	err := s.db.SelectContext(ctx, &list, `SELECT `+callColumns+` FROM (
		SELECT *, row_number() OVER (PARTITION BY url ORDER BY next_at, id) AS nth FROM calls WHERE next_at > 0 AND next_at <= ?
	) WHERE nth = 1 ORDER BY next_at`, now)
	return list, err
}

// EventsBetween lists the events of a stretch of time, as they came from controllers, oldest first.
func (s *Store) EventsBetween(ctx context.Context, from, to int64, limit int) ([]Event, error) {
	list := []Event{}
	err := s.db.SelectContext(ctx, &list, `SELECT * FROM events WHERE at >= ? AND at < ? ORDER BY at, id LIMIT ?`, from,
		to, limit)
	return list, err
}
