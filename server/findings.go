package server

import (
	"context"
	"log/slog"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/review"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// findings reviews the present configuration. They change with it and with the hour, so they are kept for both.
func (s *Server) findings() []review.Finding { return s.findingsOf(s.current()) }

func (s *Server) findingsOf(b *prove.Book) []review.Finding {
	hour := s.now() / hours.Instant(time.Hour/time.Millisecond)
	units := s.liveUnits()
	live := stirring(units, s.now())
	s.mu.RLock()
	list, ok := s.reviewed, s.reviewedFor == b && s.reviewedAt == hour && s.reviewedLive == live
	s.mu.RUnlock()
	if ok {
		return list
	}
	list = review.Hours(b.Config, b.Times(), b.Clock, s.now())
	list = append(list, review.Hardware(b.Config, units, s.now())...)
	list = append(list, review.People(b.Config, b.Effective, b.Times(), b.Clock, s.now(), s.knownOfPeople())...)
	list = append(list, review.Rules(b.Config, b.Effective, b.Times(), b.Clock, s.now())...)
	list = orNone(review.InOrder(list))
	s.mu.Lock()
	s.reviewed, s.reviewedFor, s.reviewedAt, s.reviewedLive = list, b, hour, live
	s.mu.Unlock()
	return list
}

// knownOfPeople is what findings about people are told besides the configuration.
func (s *Server) knownOfPeople() review.Known {
	k := review.Known{Seen: map[site.ID]hours.Instant{}, Over: map[site.ID]string{}, Unsent: map[site.ID]hours.Instant{}}
	if list, err := s.Store.LastSeen(s.ctx); err == nil {
		for _, x := range list {
			k.Seen[x.Person] = hours.Instant(x.At)
		}
	}
	if first, err := s.Store.FirstEvent(s.ctx); err == nil {
		k.Since = hours.Instant(first)
	}
	f := s.present()
	err := s.linked(s.ctx, f, func(c site.Controller, l store.Link, u Unit) error {
		want, ok := f.outlines.Drawn(c.ID) // what is not drawn yet is told once it is
		if !ok {
			return nil
		}
		if words := want.OverCapacity(c); words != "" {
			k.Over[c.ID] = words
		}
		if l.Hash == "" || l.Hash == want.Root || l.SentAt == nil {
			return nil
		}
		since, err := s.Store.FirstChange(s.ctx, *l.SentAt)
		k.Unsent[c.ID] = hours.Instant(since)
		return err
	})
	if err != nil {
		slog.Warn("findings do not know what is unsent", "err", err)
	}
	return k
}

// mend does what the click of a finding offers. It writes over the revisions that the finding was found in, so
// that it never undoes what somebody has changed since.
func (s *Server) mend(ctx context.Context, code string, id site.ID) error {
	f, err := s.settled(ctx)
	if err != nil {
		return err
	}
	for _, x := range s.findingsOf(f.Book) {
		if x.Code != code || x.ID != id || x.Click == "" {
			continue
		}
		if err := s.click(ctx, f, x); err != nil {
			return say(err)
		}
		return s.settle(ctx)
	}
	return huma.Error404NotFound("This finding is no longer there, or has no click.")
}

func (s *Server) click(ctx context.Context, f inForce, x review.Finding) error {
	switch v := x.Mended.(type) {
	case *site.Plan:
		return over(ctx, s, f, v.ID, *v)
	case *site.DatedChange:
		return over(ctx, s, f, v.ID, *v)
	case *site.Door:
		return over(ctx, s, f, v.ID, *v)
	case nil:
		rev, err := f.revOf(x.ID)
		if err != nil {
			return err
		}
		switch x.Kind {
		case "schedule":
			return store.Remove[site.Schedule](ctx, s.Store, s.who(ctx), x.ID, rev)
		case "holiday":
			return store.Remove[site.Holiday](ctx, s.Store, s.who(ctx), x.ID, rev)
		}
		return store.Remove[site.DatedChange](ctx, s.Store, s.who(ctx), x.ID, rev)
	}
	return store.ErrMissing
}

// over puts an object over the revision that it had in what is in force.
func over[T any](ctx context.Context, s *Server, f inForce, id site.ID, v T) error {
	rev, err := f.revOf(id)
	if err != nil {
		return err
	}
	_, err = store.Put(ctx, s.Store, s.who(ctx), &v, rev)
	return err
}

// aboutDoor keeps the findings that concern a door: its own, its plan's, its dated changes', its site's.
func (s *Server) aboutDoor(door site.ID) []review.Finding {
	b := s.current()
	d := b.Door(door)
	about := map[site.ID]bool{door: true, d.PlanID: true, b.Times().Site(door): true}
	for i := range b.Config.Changes {
		for _, id := range b.Config.Changes[i].Doors(b.Config) {
			if id == door {
				about[b.Config.Changes[i].ID] = true
			}
		}
	}
	out := []review.Finding{}
	for _, f := range s.findings() {
		if about[f.ID] {
			out = append(out, f)
		}
	}
	return out
}

func (s *Server) findingRoutes(api huma.API) {
	huma.Get(
		api,
		"/api/findings",
		func(context.Context, *struct{}) (*output[[]review.Finding], error) { return give(s.findings(), nil) },
	)
	huma.Register(
		api,
		huma.Operation{OperationID: "mendFinding", Method: http.MethodPost, Path: "/api/findings/mend"},
		func(ctx context.Context, in *struct {
			Body struct {
				Code string  `json:"code"`
				ID   site.ID `json:"id"`
			}
		}) (*struct{}, error) {
			return nil, s.mend(ctx, in.Body.Code, in.Body.ID)
		},
	)
}
