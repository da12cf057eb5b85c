package server

import (
	"context"
	"time"

	"amberkeystone/store"
)

// sessionStore lets the session library keep its sessions in the store.
type sessionStore struct{ *store.Store }

func (s sessionStore) Find(token string) ([]byte, bool, error) {
	return s.SessionFind(context.Background(), token)
}

func (s sessionStore) Commit(token string, b []byte, expiry time.Time) error {
	return s.SessionCommit(context.Background(), token, b, expiry)
}

func (s sessionStore) Delete(token string) error { return s.SessionDelete(context.Background(), token) }
