package server

import (
	"context"
	"time"

	"github.com/alexedwards/scs/v2"

	"amberkeystone/store"
)

// sessionStore lets the session library keep its sessions in the store, with whose they are.
type sessionStore struct{ *store.Store }

func (s sessionStore) Find(token string) ([]byte, bool, error) {
	return s.SessionFind(context.Background(), token)
}

func (s sessionStore) Commit(token string, b []byte, expiry time.Time) error {
	_, values, err := scs.GobCodec{}.Decode(b)
	if err != nil {
		return err
	}
	name, _ := values["name"].(string)
	return s.SessionCommit(context.Background(), token, name, b, expiry)
}

func (s sessionStore) Delete(token string) error { return s.SessionDelete(context.Background(), token) }
