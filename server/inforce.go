package server

import (
	"context"
	"log/slog"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// inForce is the configuration that decides here: what the store held at one commit.
type inForce struct {
	*prove.Book
	commit int64
	revs   map[site.ID]int64 // of every object
}

// How long an answer waits for its save to be in force, and how long after trouble it is tried again.
const (
	inForceWait  = 30 * time.Second
	applyRetry   = 200 * time.Millisecond
	applyRetries = 5 * time.Second // at most between two tries
)

// applyCommits puts commits into force, in their order, until the server closes. It is the only one that does, so
// that an older state never replaces a newer one; whoever has saved waits in settle, and if they go away it is done
// all the same.
func (s *Server) applyCommits() {
	wait := applyRetry
	var again <-chan time.Time
	for {
		select {
		case <-s.ctx.Done():
			return
		case <-s.Store.Changed():
		case <-s.tryNow:
		case <-again:
		}
		again = nil
		if err := s.apply(s.ctx); err != nil && s.ctx.Err() == nil {
			slog.Error("what was saved is not in force; it is tried again", "err", err)
			again = time.After(wait)
			wait = min(2*wait, applyRetries)
			continue
		}
		if wait != applyRetry {
			s.resendWanted()
		}
		wait = applyRetry
	}
}

// apply reads the configuration as the newest commit left it, puts it into force and tells everybody.
func (s *Server) apply(ctx context.Context) error {
	v, err := s.Store.Snapshot(ctx)
	if err != nil {
		s.mu.Lock()
		s.applyErr = err
		s.wakeWaiters()
		s.mu.Unlock()
		return err
	}
	zones := map[site.ID]hours.Zone{}
	for _, x := range v.Config.Controllers {
		zones[x.ID] = s.zone(x.Zone)
	}
	book := prove.NewBook(v.Config, zones)
	s.mu.Lock()
	s.force = inForce{book, v.Commit, v.Revs}
	s.applyErr = nil
	s.wakeWaiters()
	s.mu.Unlock()
	s.hub.send(note{Type: "config"})
	return nil
}

// wakeWaiters lets those who wait in settle look again; Server.mu is held.
func (s *Server) wakeWaiters() {
	close(s.applied)
	s.applied = make(chan struct{})
}

// settle waits until everything that is committed now is in force. Where that fails it says so; what was saved
// stays saved, and the server goes on trying.
func (s *Server) settle(ctx context.Context) error {
	want := s.Store.Commit()
	ctx, cancel := context.WithTimeout(ctx, inForceWait)
	defer cancel()
	for tries := 0; ; tries++ {
		s.mu.RLock()
		have, trouble, applied := s.force.commit, s.applyErr, s.applied
		s.mu.RUnlock()
		if have >= want {
			return nil
		}
		if trouble != nil && tries > 0 {
			return notInForce(trouble)
		}
		if trouble != nil { // of an earlier try; look whether it is over
			select {
			case s.tryNow <- struct{}{}:
			default:
			}
		}
		select {
		case <-applied:
		case <-s.ctx.Done():
			return huma.Error503ServiceUnavailable(
				"It is saved; the server is closing, and puts it into force when it starts again.",
			)
		case <-ctx.Done():
			return notInForce(ctx.Err())
		}
	}
}

func notInForce(err error) error {
	return huma.Error503ServiceUnavailable("It is saved, but not in force yet: " + err.Error() +
		". The server goes on trying by itself, and sends nothing to controllers before.")
}

// settled is current once everything that was saved is in force.
func (s *Server) settled(ctx context.Context) (inForce, error) {
	err := s.settle(ctx)
	return s.present(), err
}

// present returns what is in force.
func (s *Server) present() inForce {
	s.mu.RLock()
	defer s.mu.RUnlock()
	return s.force
}

// revOf returns the revision that an object had in what is in force; a write based on it is refused where the
// object has changed since.
func (f inForce) revOf(id site.ID) (int64, error) {
	if rev, ok := f.revs[id]; ok {
		return rev, nil
	}
	return 0, store.ErrMissing
}
