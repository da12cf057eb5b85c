package store

import (
	"context"
	"encoding/json"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/cards"
	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

func attachCodes(ctx context.Context, tx *sqlx.Tx, c *site.Config) error {
	var list []code
	if err := tx.SelectContext(ctx, &list, `SELECT hash, person_id, duress, length FROM codes`); err != nil {
		return err
	}
	for _, x := range list {
		p := c.Person(x.Person)
		if p == nil {
			continue
		}
		if err := x.attach(p); err != nil {
			return err
		}
	}
	return nil
}

// SetPIN gives a person a PIN of so many digits and its duress form, both hashed; nil takes it away. A PIN that meets
// anybody else's, or their duress form, is refused.
func (s *Store) SetPIN(ctx context.Context, who string, person site.ID, pin, duress *cards.PINHash, length int) error {
	return s.in(ctx, func(tx *writing) error {
		var r row
		if err := tx.get(ctx, &r, `SELECT id, kind, name, rev, body FROM objects WHERE id = ?
			AND kind = 'person'`, person); err != nil {
			return missing(err)
		}
		name := r.Name
		if _, err := tx.exec(ctx, `DELETE FROM codes WHERE person_id = ?`, person); err != nil {
			return err
		}
		p, err := model.ByWord("person").Decode(person, []byte(r.Body))
		if err != nil {
			return err
		}
		tx.touch(model.Change{Kind: model.ByWord("person"), ID: person, Rev: r.Rev, Object: p})
		if pin == nil {
			return audit(ctx, tx, who, "PIN removed", "person", person, name, 0, nil, nil)
		}
		if err := addCodes(ctx, tx, person, pin, duress, length); err != nil {
			return err
		}
		return audit(ctx, tx, who, "PIN set", "person", person, name, 0, nil, nil)
	})
}

func addCodes(ctx context.Context, tx *writing, person site.ID, pin, duress *cards.PINHash, length int) error {
	for i, h := range []*cards.PINHash{pin, duress} {
		text, err := h.MarshalText()
		if err != nil {
			return err
		}
		var n int
		if err := tx.get(ctx, &n, `SELECT count(*) FROM codes WHERE hash = ?`, string(text)); err != nil {
			return err
		}
		if n > 0 {
			return &Taken{"pin", "this PIN cannot be used here; choose another"}
		}
		if _, err := tx.exec(ctx, `INSERT INTO codes (hash, person_id, duress, length)
			VALUES (?, ?, ?, ?)`, string(text), person, i, length); err != nil {
			return err
		}
	}
	return nil
}

// savedCodes is a person's PIN and its duress form, hashed, as they stand in the audit trail of a removal.
type savedCodes struct {
	PIN    string `json:"pin" db:"pin"`
	Duress string `json:"duress" db:"duress"`
	Length int    `json:"length" db:"length"`
}

// codesOf returns a person's PIN to be kept with a removal, or nil where there is none.
func codesOf(ctx context.Context, tx *writing, person site.ID) (*string, error) {
	var c savedCodes
	err := tx.get(ctx, &c, `SELECT coalesce(max(hash) FILTER (WHERE NOT duress), '') AS pin,
		coalesce(max(hash) FILTER (WHERE duress), '') AS duress, coalesce(max(length), 0) AS length FROM codes WHERE person_id = ?`, person)
	if err != nil || c.PIN == "" {
		return nil, err
	}
	b, err := json.Marshal(c)
	text := string(b)
	return &text, err
}

// bringBack gives a person the PIN that a removal kept. Where somebody has got it since, it refuses: the person
// would come back with less than before, and nobody would know.
func bringBack(ctx context.Context, tx *writing, person site.ID, name string, kept *string) error {
	if kept == nil {
		return nil
	}
	var c savedCodes
	if err := json.Unmarshal([]byte(*kept), &c); err != nil {
		return err
	}
	var pin, duress cards.PINHash
	if err := pin.UnmarshalText([]byte(c.PIN)); err != nil {
		return err
	}
	if err := duress.UnmarshalText([]byte(c.Duress)); err != nil {
		return err
	}
	if err := addCodes(ctx, tx, person, &pin, &duress, c.Length); err != nil {
		return &Taken{
			"",
			name + " cannot come back as before: somebody has been given the same PIN since. Give that person another PIN, then undo",
		}
	}
	return nil
}
