package server

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/review"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// findings reviews the present configuration. They change with it and with the hour, so they are kept for both.
func (s *Server) findings() []review.Finding {
	b := s.current()
	hour := s.now() / 3600000
	s.mu.RLock()
	list, ok := s.reviewed, s.reviewedFor == b && s.reviewedAt == hour
	s.mu.RUnlock()
	if ok {
		return list
	}
	list = orNone(review.Hours(b.Config, b.Times(), b.ControllerClock, s.now()))
	s.mu.Lock()
	s.reviewed, s.reviewedFor, s.reviewedAt = list, b, hour
	s.mu.Unlock()
	return list
}

// mend does what the click of a finding offers.
func (s *Server) mend(ctx context.Context, code string, id site.ID) error {
	for _, f := range s.findings() {
		if f.Code != code || f.ID != id || f.Click == "" {
			continue
		}
		if err := s.click(ctx, f); err != nil {
			return say(err)
		}
		return s.reload(ctx)
	}
	return huma.Error404NotFound("This finding is no longer there, or has no click.")
}

func (s *Server) click(ctx context.Context, f review.Finding) error {
	switch v := f.Mended.(type) {
	case *site.Plan:
		is, err := store.Get[site.Plan](ctx, s.Store, v.ID)
		if err != nil {
			return err
		}
		mended := *v
		_, err = store.Put(ctx, s.Store, s.who(ctx), &mended, is.Rev)
		return err
	case *site.DatedChange:
		is, err := store.Get[site.DatedChange](ctx, s.Store, v.ID)
		if err != nil {
			return err
		}
		mended := *v
		_, err = store.Put(ctx, s.Store, s.who(ctx), &mended, is.Rev)
		return err
	case nil:
		switch f.Kind {
		case "schedule":
			return removeAny[site.Schedule](ctx, s, f.ID)
		case "holiday":
			return removeAny[site.Holiday](ctx, s, f.ID)
		}
		return removeAny[site.DatedChange](ctx, s, f.ID)
	}
	return store.ErrMissing
}

func removeAny[T any](ctx context.Context, s *Server, id site.ID) error {
	v, err := store.Get[T](ctx, s.Store, id)
	if err != nil {
		return err
	}
	return store.Remove[T](ctx, s.Store, s.who(ctx), id, v.Rev)
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
	huma.Get(api, "/api/findings", func(context.Context, *struct{}) (*output[[]review.Finding], error) { return give(s.findings(), nil) })
	huma.Register(api, huma.Operation{OperationID: "mendFinding", Method: http.MethodPost, Path: "/api/findings/mend"}, func(ctx context.Context, in *struct {
		Body struct {
			Code string  `json:"code"`
			ID   site.ID `json:"id"`
		}
	}) (*struct{}, error) {
		return nil, s.mend(ctx, in.Body.Code, in.Body.ID)
	})
}
