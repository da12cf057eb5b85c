package server

import (
	"context"
	"log/slog"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/model"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// inForce is the configuration that decides here: what the store held at one commit.
type inForce struct {
	*prove.Book
	outlines *image.Outlines // what controllers should hold
	commit   int64
	year     int // whose zones it stands on
	folded   *folded
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

// apply puts what was committed into force and tells everybody: what the commits changed where that is known, else the
// configuration as the newest one left it.
func (s *Server) apply(ctx context.Context) error {
	next, changes, err := s.next(ctx)
	if err != nil {
		s.mu.Lock()
		s.applyErr = err
		s.wakeWaiters()
		s.mu.Unlock()
		return err
	}
	if next.Book.Cleared == nil {
		next.Book.Cleared = s.clearedOf
	}
	s.mu.Lock()
	s.force = next
	s.applyErr = nil
	s.wakeWaiters()
	s.mu.Unlock()
	if len(changes) > 0 {
		s.hub.send(note{Type: "changed", Changes: changes})
	}
	s.poke()
	return nil
}

// next returns what the newest commit left, and what was changed since what is in force.
func (s *Server) next(ctx context.Context) (inForce, []Changed, error) {
	have, year := s.present(), s.Now().UTC().Year()
	if have.Book != nil && have.year == year { // zones are told anew at new year
		if list, ok := s.Store.Since(have.commit); ok {
			if len(list) == 0 {
				return have, nil, nil
			}
			return have.after(list), changedBy(list), nil
		}
	}
	v, err := s.Store.Snapshot(ctx)
	if err != nil {
		return inForce{}, nil, err
	}
	zones := func(_ site.ID, name string) *hours.Zone { return s.zone(name) }
	b := prove.Open(model.New(v.Config, v.Revs, zones))
	outlines := image.NewOutlines(b.Effective, b.Clock, image.Secrets{PINKey: s.pinKey})
	return inForce{b, outlines, v.Commit, year, new(folded)}, []Changed{{}}, nil
}

// after is what is in force once commits are.
func (f inForce) after(list []store.Commit) inForce {
	var changes []model.Change
	for _, c := range list {
		changes = append(changes, c.Changes...)
	}
	snapshot := f.Apply(changes)
	others := slices.ContainsFunc(changes, func(x model.Change) bool { return x.Kind.Word() != "person" })
	for _, x := range changes { // who is in a group stands among the rules of a controller, not with the people
		others = others || x.Kind.Word() == "person" && snapshot.Config.Regrouped(f.Config, x.ID)
	}
	// A place that is given without a level is a level of its own; it comes and goes with people.
	same := func(a, b site.Level) bool { return a.ID == b.ID }
	others = others || !slices.EqualFunc(f.Effective.Levels, snapshot.Effective.Levels, same)
	outlines := f.outlines.After(snapshot.Effective, snapshot.Clock, snapshot.Differing(f.Snapshot), others)
	return inForce{prove.Open(snapshot), outlines, list[len(list)-1].To, f.year, new(folded)}
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
	if rev, ok := f.Rev(id); ok {
		return rev, nil
	}
	return 0, store.ErrMissing
}
