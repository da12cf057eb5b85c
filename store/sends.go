package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"

	"amberkeystone/core/site"
)

// SendRecord is one send to one controller: what it carried, and what it did, as that was shown.
type SendRecord struct {
	ID           int64   `db:"id" json:"id"`
	At           int64   `db:"at" json:"at" doc:"Unix milliseconds"`
	Who          string  `db:"who" json:"who"`
	ControllerID site.ID `db:"controller_id" json:"controllerId"`
	Controller   string  `db:"controller" json:"controller"`
	Hash         string  `db:"hash" json:"hash" doc:"Of the image that it was to hold"`
	Why          string  `db:"why" json:"why" doc:"Asked for, on its return, at a set time, or ahead of everything else"`
	Whole        bool    `db:"whole" json:"whole" doc:"Everything was sent, not the difference"`
	Bytes        int     `db:"bytes" json:"bytes" doc:"How much was carried"`
	Outcome      string  `db:"outcome" json:"outcome" enum:"verified,failed,cancelled"`
	Words        string  `db:"words" json:"words" doc:"What went wrong; empty where nothing did"`
	Changes      string  `db:"changes" json:"-"` // a JSON list
	Impact       string  `db:"impact" json:"impact" doc:"Whom it touched, in a sentence"`
}

// AddSend keeps what a send carried.
func (s *Store) AddSend(ctx context.Context, r SendRecord) error {
	if r.At == 0 {
		r.At = now()
	}
	return s.in(ctx, func(tx *writing) error {
		_, err := tx.execNamed(ctx, `INSERT INTO sends (at, who, controller_id, controller, hash, why, whole, bytes, outcome,
			words, changes, impact) VALUES (:at, :who, :controller_id, :controller, :hash, :why, :whole, :bytes, :outcome, :words,
			:changes, :impact)`, r)
		return err
	})
}

// Sends reads what was sent, newest first: of one controller, or of all where it is 0.
func (s *Store) Sends(ctx context.Context, controller site.ID, before int64, limit int) ([]SendRecord, error) {
	out := []SendRecord{}
	err := s.db.SelectContext(ctx, &out, `SELECT * FROM sends WHERE (?1 = 0 OR controller_id = ?1) AND (?2 = 0 OR id < ?2)
		ORDER BY id DESC LIMIT ?3`, controller, before, limit)
	return out, err
}

// SendOf reads one send, or ErrMissing.
func (s *Store) SendOf(ctx context.Context, id int64) (r SendRecord, err error) {
	err = s.db.GetContext(ctx, &r, `SELECT * FROM sends WHERE id = ?`, id)
	return r, missing(err)
}

// Remember keeps something for people under a name; nil forgets it.
func (s *Store) Remember(ctx context.Context, name string, v any) error {
	return s.in(ctx, func(tx *writing) error {
		if v == nil {
			_, err := tx.exec(ctx, `DELETE FROM kept WHERE name = ?`, name)
			return err
		}
		b, err := json.Marshal(v)
		if err != nil {
			return err
		}
		_, err = tx.exec(ctx, `INSERT INTO kept (name, value) VALUES (?, ?)
			ON CONFLICT (name) DO UPDATE SET value = excluded.value`, name, string(b))
		return err
	})
}

// Recall reads what was kept under a name into v; ok is false where there is nothing.
func (s *Store) Recall(ctx context.Context, name string, v any) (ok bool, err error) {
	var text string
	err = s.db.GetContext(ctx, &text, `SELECT value FROM kept WHERE name = ?`, name)
	if errors.Is(err, sql.ErrNoRows) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	return true, json.Unmarshal([]byte(text), v)
}

// Photo is a picture of somebody.
type Photo struct {
	Kind  string `db:"kind"` // image/jpeg, image/png or image/webp
	Bytes []byte `db:"bytes"`
	At    int64  `db:"at"`
}

// SetPhoto keeps somebody's picture; without bytes it is taken away.
func (s *Store) SetPhoto(ctx context.Context, who string, person site.ID, p Photo) error {
	return s.in(ctx, func(tx *writing) error {
		var name string
		if err := tx.get(ctx, &name, `SELECT name FROM objects WHERE id = ? AND kind = 'person'`, person); err != nil {
			return missing(err)
		}
		if len(p.Bytes) == 0 {
			if _, err := tx.exec(ctx, `DELETE FROM photos WHERE person_id = ?`, person); err != nil {
				return err
			}
			return audit(ctx, tx, who, "photo removed", "person", person, name, 0, nil, nil)
		}
		if _, err := tx.exec(ctx, `INSERT INTO photos (person_id, kind, bytes, at) VALUES (?, ?, ?, ?) ON CONFLICT (person_id)
			DO UPDATE SET kind = excluded.kind, bytes = excluded.bytes, at = excluded.at`, person, p.Kind, p.Bytes, now()); err != nil {
			return err
		}
		return audit(ctx, tx, who, "photo set", "person", person, name, 0, nil, nil)
	})
}

// PhotoOf reads somebody's picture, or ErrMissing.
func (s *Store) PhotoOf(ctx context.Context, person site.ID) (p Photo, err error) {
	err = s.db.GetContext(ctx, &p, `SELECT kind, bytes, at FROM photos WHERE person_id = ?`, person)
	return p, missing(err)
}
