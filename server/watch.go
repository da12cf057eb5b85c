package server

import (
	"context"
	"encoding/json"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/panel"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// take stores a stretch of a controller's log; it is acknowledged only once it is on disk.
func (s *Server) take(u *unit, batch link.Events) error {
	list := make([]store.Event, len(batch.Events))
	b := s.current()
	for i := range batch.Events {
		e, err := Stored(b, u.id, batch.Log, &batch.Events[i])
		if err != nil {
			return err
		}
		list[i] = e
	}
	fresh, err := s.Store.AddEvents(s.ctx, list)
	if err != nil {
		return err
	}
	for i := range fresh {
		s.hub.send(note{Type: "event", Event: &fresh[i]})
	}
	return nil
}

// Stored puts an event into the words and names of today, as it is stored.
func Stored(b *prove.Book, controller site.ID, log string, e *panel.Event) (store.Event, error) {
	raw, err := json.Marshal(e)
	if err != nil {
		return store.Event{}, err
	}
	lines := b.Trace(e)
	if lines == nil {
		lines = []prove.Line{}
	}
	trace, err := json.Marshal(lines)
	if err != nil {
		return store.Event{}, err
	}
	out := store.Event{
		ControllerID: controller, Log: log, Seq: e.Seq, At: int64(e.At), Kind: e.Kind.String(), Outcome: outcome(e), Reason: e.Reason.String(),
		DoorID: e.Door, PersonID: e.Person, Controller: b.Name(controller), Headline: b.Headline(e), Detail: b.Detail(e),
		Trace: string(trace), Mend: b.Mend(e), Zone: b.ControllerZone(controller), Raw: string(raw), Alarm: e.Kind.Alarm(),
	}
	if e.Door != 0 {
		out.Door = b.Name(e.Door)
	}
	if e.Person != 0 {
		out.Person = b.Name(e.Person)
	}
	return out, nil
}

// outcome sorts events for filtering.
func outcome(e *panel.Event) string {
	switch {
	case e.Kind.Alarm():
		return "alarm"
	case e.Kind == panel.Granted:
		return "granted"
	case e.Kind == panel.Refused || e.Kind == panel.KeypadLocked:
		return "refused"
	case e.Door != 0:
		return "door"
	}
	return "system"
}

type eventsInput struct {
	Door     site.ID `query:"door"`
	Person   site.ID `query:"person"`
	Outcome  string  `query:"outcome" enum:"granted,refused,alarm,door,system,"`
	Q        string  `query:"q"`
	Quiet    bool    `query:"quiet" doc:"Leave out what only tells that a door opened, closed or changed its mode"`
	Before   int64   `query:"before" doc:"With beforeId: only those further down the list"`
	BeforeID int64   `query:"beforeId"`
	Limit    int     `query:"limit" default:"100" minimum:"1" maximum:"500"`
}

func (s *Server) watchRoutes(api huma.API) {
	huma.Get(api, "/api/events", func(ctx context.Context, in *eventsInput) (*output[[]store.Event], error) {
		return give(s.Store.Events(ctx, store.EventFilter{Door: in.Door, Person: in.Person, Outcome: in.Outcome, Search: in.Q,
			Quiet: in.Quiet, Before: in.Before, BeforeID: in.BeforeID, Limit: in.Limit}))
	})
	huma.Post(api, "/api/events/{id}/acknowledge", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
	}) (*output[store.Event], error) {
		e, err := s.Store.Acknowledge(ctx, s.who(ctx), in.ID)
		if err == nil {
			s.hub.send(note{Type: "acknowledged", Event: &e})
		}
		return give(e, err)
	})
}

// clockTicks makes the screens look again when a door is about to ask something else.
func (s *Server) clockTicks() {
	t := time.NewTicker(time.Minute)
	defer t.Stop()
	for {
		select {
		case <-s.ctx.Done():
			return
		case <-t.C:
			s.hub.send(note{Type: "minute"})
		}
	}
}
