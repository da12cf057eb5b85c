package store

import (
	"context"
	"database/sql"
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
	tx       *sqlx.Tx
	prepared map[string]*sqlx.Stmt // many objects are written by the same few statements
	changes  []model.Change
	whole    bool // so much is written that the changes are not kept
	touched  bool
	found    map[site.ID]string // what the index gets at the end
}

// statement is a query of this transaction, read by SQLite once.
func (tx *writing) statement(ctx context.Context, query string) (*sqlx.Stmt, error) {
	if stmt := tx.prepared[query]; stmt != nil {
		return stmt, nil
	}
	stmt, err := tx.tx.PreparexContext(ctx, query)
	if err == nil {
		tx.prepared[query] = stmt
	}
	return stmt, err
}

// exec runs one statement, which is kept for the next object.
func (tx *writing) exec(ctx context.Context, query string, args ...any) (sql.Result, error) {
	stmt, err := tx.statement(ctx, query)
	if err != nil {
		return nil, err
	}
	return stmt.ExecContext(ctx, args...)
}

// execNamed is exec with the fields of a value by their names.
func (tx *writing) execNamed(ctx context.Context, query string, of any) (sql.Result, error) {
	bound, args, err := tx.tx.BindNamed(query, of)
	if err != nil {
		return nil, err
	}
	return tx.exec(ctx, bound, args...)
}

// get reads one row.
func (tx *writing) get(ctx context.Context, into any, query string, args ...any) error {
	stmt, err := tx.statement(ctx, query)
	if err != nil {
		return err
	}
	return stmt.GetContext(ctx, into, args...)
}

// list reads rows.
func (tx *writing) list(ctx context.Context, into any, query string, args ...any) error {
	stmt, err := tx.statement(ctx, query)
	if err != nil {
		return err
	}
	return stmt.SelectContext(ctx, into, args...)
}

// touch notes what the transaction changes of the configuration, which gets a number for it.
func (tx *writing) touch(changes ...model.Change) {
	tx.touched = true
	if !tx.whole {
		tx.changes = append(tx.changes, changes...)
	}
}

// number is the commit's, a new one where the configuration was touched.
func (tx *writing) number(ctx context.Context) (n int64, err error) {
	if tx.touched {
		if _, err := tx.exec(ctx, `UPDATE commits SET n = n + 1`); err != nil {
			return 0, err
		}
	}
	return n, tx.get(ctx, &n, `SELECT n FROM commits`)
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
		if err := tx.list(ctx, &list, `SELECT hash, person_id, duress, length FROM codes
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
