package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"amberkeystone/core/site"
)

// SessionFind returns the data of a session that has not expired.
func (s *Store) SessionFind(ctx context.Context, token string) ([]byte, bool, error) {
	var b []byte
	err := s.db.GetContext(ctx, &b, `SELECT data FROM sessions WHERE token = ? AND expiry > ?`, token, now())
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	return b, err == nil, err
}

// SessionCommit writes a session of a user, and forgets those that have expired.
func (s *Store) SessionCommit(ctx context.Context, token, user string, data []byte, expiry time.Time) error {
	return s.in(ctx, func(tx *writing) error {
		if _, err := tx.exec(ctx, `DELETE FROM sessions WHERE expiry < ?`, now()); err != nil {
			return err
		}
		_, err := tx.exec(ctx, `INSERT INTO sessions (token, user, data, expiry) VALUES (?, ?, ?, ?)
			ON CONFLICT (token) DO UPDATE SET user = excluded.user, data = excluded.data, expiry = excluded.expiry`,
			token, user, data, expiry.UnixMilli())
		return err
	})
}

// SessionDelete ends a session.
func (s *Store) SessionDelete(ctx context.Context, token string) error {
	return s.in(ctx, func(tx *writing) error {
		_, err := tx.exec(ctx, `DELETE FROM sessions WHERE token = ?`, token)
		return err
	})
}

// SessionsOf returns the data of a user's sessions, by token.
func (s *Store) SessionsOf(ctx context.Context, user string) (map[string][]byte, error) {
	var rows []struct {
		Token string `db:"token"`
		Data  []byte `db:"data"`
	}
	out := map[string][]byte{}
	err := s.db.SelectContext(ctx, &rows, `SELECT token, data FROM sessions WHERE user = ? AND expiry > ?`, user, now())
	for _, r := range rows {
		out[r.Token] = r.Data
	}
	return out, err
}

// SetPassword changes a user's password, given as its hash.
func (s *Store) SetPassword(ctx context.Context, user, password string) error {
	return s.in(ctx, func(tx *writing) error {
		r, err := tx.exec(ctx, `UPDATE users SET password = ? WHERE name = ?`, password, user)
		if err != nil {
			return err
		}
		if n, err := r.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, ErrMissing)
		}
		return audit(ctx, tx, user, "password changed", "user", 0, user, 0, nil, nil)
	})
}

// EnsureBasics adds what every configuration has, where it is missing.
func (s *Store) EnsureBasics(ctx context.Context) error {
	return s.in(ctx, func(tx *writing) error {
		var n int
		const who = "Amber Keystone"
		if err := tx.get(ctx, &n, `SELECT count(*) FROM objects`); err != nil {
			return err
		}
		if n > 0 { // a database from before there were holiday types gets the usual ones, once
			if err := tx.get(ctx, &n, `SELECT (SELECT count(*) FROM objects
				WHERE kind = 'holiday type') + (SELECT count(*) FROM audit WHERE kind = 'holiday type')`); err != nil ||
				n > 0 {
				return err
			}
			return tx.putAll(ctx, who, &site.Config{Types: site.UsualTypes()})
		}
		settings := site.DefaultSettings()
		if _, err := tx.put(ctx, who, "added", &settings, back); err != nil {
			return err
		}
		schedules, plans := site.Basics()
		return tx.putAll(ctx, who, &site.Config{Schedules: schedules, Plans: plans, Types: site.UsualTypes()})
	})
}
