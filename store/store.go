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
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"modernc.org/sqlite"

	"amberkeystone/core/site"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is an open database. It is safe for concurrent use.
type Store struct {
	db   *sqlx.DB
	path string
	// write serialises writers: SQLite has one anyway, and waiting here is fair.
	write   chan struct{}
	commit  atomic.Int64 // number of the newest commit of the configuration
	copying sync.Mutex
	changed chan struct{} // holds one when there is a commit that nobody has looked at
	commits commits
}

// Open opens the database file, making it or bringing it up to date. The memory database is ":memory:". The
// file is for its owner alone.
func Open(path string) (*Store, error) {
	if err := private(path); err != nil {
		return nil, err
	}
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
	s := &Store{db: db, path: path, write: make(chan struct{}, 1), changed: make(chan struct{}, 1)}
	var n int64
	if err := db.Get(&n, `SELECT n FROM commits`); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	s.commit.Store(n)
	return s, nil
}

// private makes the database file and what lies beside it readable for its owner alone: it holds keys.
func private(path string) error {
	if path == ":memory:" {
		return nil
	}
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return fmt.Errorf("database %s: %w", path, err)
	}
	if err := f.Close(); err != nil {
		return err
	}
	for _, beside := range []string{path, path + "-wal", path + "-shm"} {
		if err := os.Chmod(beside, 0o600); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("database %s: %w", filepath.Base(beside), err)
		}
	}
	return nil
}

// Empty reports whether the database file held nothing when it was opened before this call to Open: it is
// asked before Open, of the path. A file of no length is as good as none, and worth a word.
func Empty(path string) bool {
	info, err := os.Stat(path)
	return err == nil && info.Size() == 0
}

// Commit returns the number of the newest commit of the configuration. It grows with every commit, over
// restarts too.
func (s *Store) Commit() int64 { return s.commit.Load() }

// Changed gives a value after commits of the configuration, one for however many there were.
func (s *Store) Changed() <-chan struct{} { return s.changed }

// Close closes the database.
func (s *Store) Close() error { return s.db.Close() }

// DB is the database handle, for the session library.
func (s *Store) DB() *sql.DB { return s.db.DB }

// in runs f in a write transaction; whatever it returns as an error rolls everything back. Who goes away while
// waiting has written nothing; what has begun is finished, so that nobody wonders whether it was written.
func (s *Store) in(ctx context.Context, f func(tx *writing) error) error {
	select {
	case s.write <- struct{}{}:
	case <-ctx.Done():
		return ctx.Err()
	}
	defer func() { <-s.write }()
	ctx = context.WithoutCancel(ctx)
	begun, err := s.db.BeginTxx(ctx, nil)
	if err != nil {
		return full(err)
	}
	tx := &writing{tx: begun, prepared: map[string]*sqlx.Stmt{}, found: map[site.ID]string{}}
	if err := f(tx); err != nil {
		return full(errors.Join(err, begun.Rollback()))
	}
	if err := tx.writeIndex(ctx); err != nil {
		return full(errors.Join(err, begun.Rollback()))
	}
	n, err := tx.number(ctx)
	if err != nil {
		return full(errors.Join(err, begun.Rollback()))
	}
	if err := tx.withCodes(ctx); err != nil {
		return full(errors.Join(err, begun.Rollback()))
	}
	if err := begun.Commit(); err != nil {
		return full(err)
	}
	s.commits.add(Commit{From: s.commit.Load(), To: n, Changes: tx.changes, Whole: tx.whole})
	if s.commit.Swap(n) != n {
		select {
		case s.changed <- struct{}{}:
		default:
		}
	}
	return nil
}

// ErrFull is the answer to a write for which there is no room.
var ErrFull = errors.New(
	"the disk is full, so nothing was written; make room on the disk that holds the database, then save again",
)

// full tells a full disk from other trouble (SQLITE_FULL, and ENOSPC where SQLite reports a failed write).
func full(err error) error {
	var e *sqlite.Error
	const sqliteFull, sqliteWrite = 13, 778 // SQLITE_FULL, SQLITE_IOERR_WRITE (sqlite.org/rescode.html)
	if errors.As(err, &e) && (e.Code() == sqliteFull || e.Code() == sqliteWrite) {
		return errors.Join(ErrFull, err)
	}
	return err
}

// Secret returns a random secret of 32 bytes, made when it is first asked for.
func (s *Store) Secret(ctx context.Context, name string) ([]byte, error) {
	fresh := make([]byte, 32)
	rand.Read(fresh)
	var v []byte
	err := s.in(ctx, func(tx *writing) error {
		if _, err := tx.exec(ctx, `INSERT INTO secrets (name, value) VALUES (?, ?)
			ON CONFLICT DO NOTHING`, name, fresh); err != nil {
			return err
		}
		return tx.get(ctx, &v, `SELECT value FROM secrets WHERE name = ?`, name)
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
	err := s.in(ctx, func(tx *writing) error {
		r, err := tx.exec(
			ctx,
			`INSERT INTO users (name, password, created_at) SELECT ?, ?, ? WHERE NOT EXISTS (SELECT 1 FROM users)`,
			name,
			password,
			now(),
		)
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
