package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"amberkeystone/core/pass"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// take stores a stretch of a controller's log; it is acknowledged only once it is on disk. Whatever a controller says
// is taken: what cannot be read or put into words is stored as it came, so that it never stands in the way of the rest.
func (s *Server) take(u *unit, batch link.Events) error {
	b := s.bookOf(u.id, batch.Image)
	list, all := make([]store.Event, len(batch.Events)), s.current()
	for i, l := range batch.Events {
		list[i] = told(b, all, u.id, batch.Log, l)
		s.enrolling.calm(&list[i])
	}
	fresh, err := s.Store.AddEvents(s.ctx, list, clash)
	if err != nil {
		return err
	}
	s.moved(u, fresh)
	s.screened(u, fresh)
	s.passOn(u, fresh)
	s.reactTo(happened{controller: u.id, events: fresh})
	for i := range fresh {
		s.hub.send(note{Type: "event", Event: &fresh[i], Quiet: slices.Contains(pass.QuietCodes(), fresh[i].Kind)})
		if fresh[i].Alarm {
			s.poke()
		}
	}
	return nil
}

// held is the book of what a controller holds, or held.
type held struct {
	hash string
	book *prove.Book
}

// bookOf returns the book that has the words for what happened under an image at a controller: its own names and hours
// of then. Where nothing is known of that image it is the present one.
func (s *Server) bookOf(id site.ID, hash string) *prove.Book {
	if hash == "" {
		return s.current()
	}
	s.mu.RLock()
	h := s.held[id]
	s.mu.RUnlock()
	if h.hash == hash {
		return h.book
	}
	im, names, err := s.sent(s.ctx, id, hash)
	if err != nil {
		if !errors.Is(err, store.ErrMissing) {
			slog.Warn(
				"what a controller held cannot be read; events are told in today's words",
				"controller",
				id,
				"err",
				err,
			)
		}
		return s.current()
	}
	h = held{hash, prove.BookOf(im, names)}
	s.mu.Lock()
	s.held[id] = h
	s.mu.Unlock()
	return h.book
}

// longestEvent is how much of an event that cannot be read is stored.
const longestEvent = 16 << 10

// told puts an event of a log into words, or stores it as it came. The words are those of what the controller held;
// whose card it did not know, all says, which knows everybody.
func told(b, all *prove.Book, controller site.ID, log string, l link.Logged) (out store.Event) {
	raw := string(l.Event[:min(len(l.Event), longestEvent)])
	unread := func(why string) store.Event {
		return store.Event{
			ControllerID: controller,
			Log:          log,
			Seq:          l.Seq,
			Kind:         "unreadable",
			Outcome:      "system",
			Controller:   b.Name(controller),
			Headline:     "An event that cannot be read",
			Detail:       why,
			Trace:        "[]",
			Zone:         b.ControllerZone(controller),
			Raw:          raw,
		}
	}
	defer func() {
		if r := recover(); r != nil {
			slog.Error("an event has no words", "controller", controller, "seq", l.Seq, "err", r)
			out = unread("it says what no controller says; it is stored as it came")
		}
	}()
	var e pass.Fact
	if err := json.Unmarshal(l.Event, &e); err != nil {
		return unread("it is of a kind that is not known here; it is stored as it came")
	}
	e.Seq = l.Seq
	all.Recognise(&e)
	out, err := Stored(b, controller, log, &e)
	if err != nil {
		return unread(err.Error())
	}
	if e.Person != 0 && !b.Knows(e.Person) { // somebody who came after that image
		e := e
		if later, err := Stored(all, controller, log, &e); err == nil {
			out = later
		}
	}
	out.Raw = raw
	return out
}

// clash is the alarm for an event whose place in the log other contents have.
func clash(e store.Event) store.Event {
	return store.Event{
		ControllerID: e.ControllerID,
		Seq:          e.Seq,
		At:           e.At,
		Kind:         "log-conflict",
		Outcome:      "alarm",
		Alarm:        true,
		Controller:   e.Controller,
		Headline:     "A log contradicts itself",
		Trace:        "[]",
		Zone:         e.Zone,
		Raw:          "{}",
		Detail: fmt.Sprintf(
			"event %d of this controller was stored before with other contents; both are kept",
			e.Seq,
		),
		Mend: "Look at the controller: its log was lost and its numbers were used again, or somebody speaks in its name.",
	}
}

// Stored puts an event into words and names, as it is stored.
func Stored(b *prove.Book, controller site.ID, log string, e *pass.Fact) (store.Event, error) {
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
		ControllerID: controller, Log: log, Seq: e.Seq, At: int64(e.At), Kind: e.Kind.String(), Outcome: outcome(e),
		Reason: e.Reason.String(), DoorID: e.Door, PersonID: e.Person, Controller: b.Name(controller),
		Headline: b.Headline(e), Detail: b.Detail(e), Trace: string(trace), Mend: b.Mend(e),
		Zone: b.ControllerZone(controller), Raw: string(raw), Alarm: alarm(e),
	}
	if e.Door != 0 {
		out.Door = b.Name(e.Door)
	}
	if e.Person != 0 {
		out.Person = b.Name(e.Person)
	}
	return out, nil
}

// alarm reports whether a person has to acknowledge an event: what the controller calls an alarm, and a card that is
// lost or stolen.
func alarm(e *pass.Fact) bool {
	return e.Kind.Alarm() || e.Kind == pass.WasRefused && (e.Reason == pass.CardLost || e.Reason == pass.CardStolen)
}

// outcome sorts events for filtering.
func outcome(e *pass.Fact) string {
	switch {
	case alarm(e):
		return "alarm"
	case e.Kind == pass.WasGranted:
		return "granted"
	case e.Kind == pass.WasRefused || e.Kind == pass.KeypadWasLocked || e.Kind == pass.FloorRefused:
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
		return give(
			s.Store.Events(ctx, store.EventFilter{Door: in.Door, Person: in.Person, Outcome: in.Outcome, Search: in.Q,
				Quiet: in.Quiet, Before: in.Before, BeforeID: in.BeforeID, Limit: in.Limit}),
		)
	})
	huma.Post(api, "/api/events/{id}/acknowledge", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
	}) (*output[store.Event], error) {
		e, err := s.Store.Acknowledge(ctx, s.who(ctx), in.ID)
		if err == nil {
			s.hub.send(note{Type: "acknowledged", Event: &e})
			s.poke()
		}
		return give(e, err)
	})
}

// clockTicks has the live state looked at when minutes begin: that is when doors ask something else.
func (s *Server) clockTicks() {
	for {
		now := time.Now()
		select {
		case <-s.ctx.Done():
			return
		case <-time.After(now.Truncate(time.Minute).Add(time.Minute).Sub(now)):
			s.poke()
			s.hourBegan(s.now())
		}
	}
}
