package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strconv"

	"amberkeystone/core/site"
)

// cardKey is how a credential is told from others.
func cardKey(c site.Credential) (format string, facility uint64, number string) {
	if f, n, ok := c.Card(); ok {
		return c.Format, f, strconv.FormatUint(n, 10)
	}
	return string(c.Kind), 0, c.Value
}

// ownerOf names whose credential it is; nobody's where it is free or not known.
func (tx *writing) ownerOf(ctx context.Context, c site.Credential) (owner string, err error) {
	format, facility, number := cardKey(c)
	err = tx.get(ctx, &owner, `SELECT o.name FROM cards c JOIN objects o ON o.id = c.person_id
		WHERE c.format = ? AND c.facility = ? AND c.number = ?`, format, facility, number)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return owner, err
}

func (tx *writing) cards(ctx context.Context, p *site.Person, fresh bool) error {
	if !fresh {
		if _, err := tx.exec(ctx, `DELETE FROM cards WHERE person_id = ?`, p.ID); err != nil {
			return err
		}
	}
	for i, c := range p.Credentials {
		format, facility, number := cardKey(c)
		r, err := tx.exec(ctx, `INSERT INTO cards (format, facility, number, person_id)
			VALUES (?, ?, ?, ?) ON CONFLICT DO NOTHING`, format, facility, number, p.ID)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			owner, unknown := tx.ownerOf(ctx, c)
			if err := errors.Join(err, unknown); err != nil {
				return err
			}
			return &Taken{
				fmt.Sprintf("credentials[%d].value", i),
				fmt.Sprintf("%s already belongs to %s", c.Words(), owner),
			}
		}
		if err := tx.given(ctx, c); err != nil {
			return err
		}
	}
	return nil
}

// given takes a credential out of those that are nobody's.
func (tx *writing) given(ctx context.Context, c site.Credential) error {
	format, facility, number := cardKey(c)
	var free struct {
		ID  site.ID `db:"id"`
		Rev int64   `db:"rev"`
	}
	err := tx.get(ctx, &free, `SELECT o.id, o.rev FROM free_cards f JOIN objects o ON o.id = f.card_id
		WHERE f.format = ? AND f.facility = ? AND f.number = ?`, format, facility, number)
	if errors.Is(err, sql.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	return remove(ctx, tx, "", "given to somebody", "free card", free.ID, free.Rev)
}

// freeCard refuses one that is somebody's or there already.
func (tx *writing) freeCard(ctx context.Context, f *site.FreeCard) error {
	owner, err := tx.ownerOf(ctx, f.Credential)
	if err != nil {
		return err
	}
	if owner != "" {
		return &Taken{"value", fmt.Sprintf("%s already belongs to %s", f.Words(), owner)}
	}
	format, facility, number := cardKey(f.Credential)
	var other int
	if err := tx.get(ctx, &other, `SELECT count(*) FROM free_cards WHERE format = ? AND facility = ? AND number = ?
		AND card_id <> ?`, format, facility, number, f.ID); err != nil {
		return err
	}
	if other > 0 {
		return &Taken{"value", f.Words() + " is among the free cards already"}
	}
	if _, err := tx.exec(ctx, `DELETE FROM free_cards WHERE card_id = ?`, f.ID); err != nil {
		return err
	}
	_, err = tx.exec(ctx, `INSERT INTO free_cards (format, facility, number, card_id) VALUES (?, ?, ?, ?)`,
		format, facility, number, f.ID)
	return err
}
