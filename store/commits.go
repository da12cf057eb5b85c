package store

import (
	"context"
	"sync"

	"github.com/jmoiron/sqlx"

	"amberkeystone/core/cards"
	"amberkeystone/core/model"
	"amberkeystone/core/site"
)

// Commit is what one write did to the configuration, from one number to the next.
type Commit struct {
	From, To int64
	Changes  []model.Change
	Whole    bool // so much that all is to be read again
}

// mostCommits is how many commits are kept for who asks; who comes later reads everything.
const mostCommits = 1000

// commits are those that were made lately, in their order.
type commits struct {
	mu   sync.Mutex
	list []Commit
}

func (c *commits) add(x Commit) {
	if x.From == x.To {
		return
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	if len(c.list) >= mostCommits {
		c.list = append(c.list[:0], c.list[len(c.list)/2:]...)
	}
	c.list = append(c.list, x)
}

// Since returns the commits after a number, in their order without gaps; ok is false where they are not known, and all
// is to be read again.
func (s *Store) Since(commit int64) (list []Commit, ok bool) {
	s.commits.mu.Lock()
	defer s.commits.mu.Unlock()
	for _, x := range s.commits.list {
		if x.To <= commit {
			continue
		}
		if x.Whole || x.From != commit {
			return nil, false
		}
		list, commit = append(list, x), x.To
	}
	return list, true
}

// writing is a write transaction, and what it does to the configuration.
type writing struct {
	*sqlx.Tx
	changes []model.Change
	whole   bool
}

// touch numbers a commit that changes the configuration.
func (tx *writing) touch(ctx context.Context, changes ...model.Change) error {
	if !tx.whole {
		tx.changes = append(tx.changes, changes...)
	}
	_, err := tx.ExecContext(ctx, `UPDATE commits SET n = n + 1`)
	return err
}

// withCodes gives the people among the changes their PINs, which stand apart from the documents.
func (tx *writing) withCodes(ctx context.Context) error {
	if tx.whole {
		return nil
	}
	for _, x := range tx.changes {
		p, ok := x.Object.(*site.Person)
		if !ok {
			continue
		}
		p.PIN, p.Duress, p.PINLength = nil, nil, 0
		var list []code
		if err := tx.SelectContext(ctx, &list, `SELECT hash, person_id, duress, length FROM codes
			WHERE person_id = ?`, p.ID); err != nil {
			return err
		}
		for _, c := range list {
			if err := c.attach(p); err != nil {
				return err
			}
		}
	}
	return nil
}

// code is a PIN of somebody, or its form under duress, hashed.
type code struct {
	Hash   string  `db:"hash"`
	Person site.ID `db:"person_id"`
	Duress bool    `db:"duress"`
	Length int     `db:"length"`
}

func (c *code) attach(p *site.Person) error {
	h := new(cards.PINHash)
	if err := h.UnmarshalText([]byte(c.Hash)); err != nil {
		return err
	}
	if c.Duress {
		p.Duress = h
		return nil
	}
	p.PIN, p.PINLength = h, c.Length
	return nil
}
