// Package store keeps the configuration, its history and the events in SQLite. All SQL is here.
package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is an open database. It is safe for concurrent use.
type Store struct {
	db *sqlx.DB
	// write serialises writers: SQLite has one anyway, and waiting here is fair.
	write chan struct{}
}

// Open opens the database file, making it or bringing it up to date. The memory database is ":memory:".
func Open(path string) (*Store, error) {
	const pragmas = "?_pragma=foreign_keys(1)&_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_pragma=busy_timeout(5000)&_txlock=immediate"
	db, err := sqlx.Open("sqlite", "file:"+path+pragmas)
	if err != nil {
		return nil, err
	}
	if path == ":memory:" {
		db.SetMaxOpenConns(1)
	} else {
		db.SetMaxOpenConns(8)
	}
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, db.DB, sub)
	if err != nil {
		return nil, errors.Join(err, db.Close())
	}
	if _, err := p.Up(context.Background()); err != nil {
		return nil, errors.Join(fmt.Errorf("database %s: %w", path, err), db.Close())
	}
	return &Store{db: db, write: make(chan struct{}, 1)}, nil
}

// Close closes the database.
func (s *Store) Close() error { return s.db.Close() }

// DB is the database handle, for the session library.
func (s *Store) DB() *sql.DB { return s.db.DB }

// in runs f in a write transaction; whatever it returns as an error rolls everything back.
func (s *Store) in(ctx context.Context, f func(tx *sqlx.Tx) error) error {
	s.write <- struct{}{}
	defer func() { <-s.write }()
	tx, err := s.db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	if err := f(tx); err != nil {
		return errors.Join(err, tx.Rollback())
	}
	return tx.Commit()
}

// Secret returns a random secret of 32 bytes, made when it is first asked for.
func (s *Store) Secret(ctx context.Context, name string) ([]byte, error) {
	fresh := make([]byte, 32)
	rand.Read(fresh)
	var v []byte
	err := s.in(ctx, func(tx *sqlx.Tx) error {
		if _, err := tx.ExecContext(ctx, `INSERT INTO secrets (name, value) VALUES (?, ?) ON CONFLICT DO NOTHING`, name, fresh); err != nil {
			return err
		}
		return tx.GetContext(ctx, &v, `SELECT value FROM secrets WHERE name = ?`, name)
	})
	return v, err
}

// User is somebody who may sign in.
type User struct {
	ID       int64  `db:"id"`
	Name     string `db:"name"`
	Password string `db:"password"` // argon2id
}

// Users counts those who may sign in.
func (s *Store) Users(ctx context.Context) (n int, err error) {
	err = s.db.GetContext(ctx, &n, `SELECT count(*) FROM users`)
	return n, err
}

// AddFirstUser adds the first administrator; it reports false where there already is one.
func (s *Store) AddFirstUser(ctx context.Context, name, password string) (bool, error) {
	added := false
	err := s.in(ctx, func(tx *sqlx.Tx) error {
		r, err := tx.ExecContext(ctx, `INSERT INTO users (name, password, created_at) SELECT ?, ?, ? WHERE NOT EXISTS (SELECT 1 FROM users)`, name, password, now())
		if err != nil {
			return err
		}
		n, err := r.RowsAffected()
		added = n == 1
		if err != nil || !added {
			return err
		}
		return audit(ctx, tx, name, "first administrator", "user", 0, name, 0, nil, nil)
	})
	return added, err
}

// UserByName finds a user, or ErrMissing.
func (s *Store) UserByName(ctx context.Context, name string) (u User, err error) {
	err = s.db.GetContext(ctx, &u, `SELECT id, name, password FROM users WHERE name = ?`, name)
	return u, missing(err)
}

func missing(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrMissing
	}
	return err
}

func now() int64 { return time.Now().UnixMilli() }
