package server

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"slices"
	"sync"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/prove"
	"amberkeystone/core/rules/screening"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// clearances is who is cleared, as all controllers saw it and operators said, and who came to a desk last.
type clearances struct {
	mu        sync.Mutex
	book      *screening.Book
	presented map[site.ID]presented // by door
}

// presented is a card that was shown at a reader.
type presented struct {
	person site.ID
	at     hours.Instant
}

// openClearances reads who is cleared.
func (s *Server) openClearances(ctx context.Context) error {
	list, err := s.Store.Clearances(ctx)
	if err != nil {
		return err
	}
	s.clearances.book, s.clearances.presented = screening.NewBook(), map[site.ID]presented{}
	for _, c := range list {
		s.clearances.book.Put(c)
	}
	return nil
}

// clearedOf lists what is known of somebody's screenings.
func (s *Server) clearedOf(person site.ID) (out []pass.Clearance) {
	p := s.current().Effective.Person(person)
	if p == nil {
		return nil
	}
	s.clearances.mu.Lock()
	defer s.clearances.mu.Unlock()
	for _, id := range p.Screened() {
		if c, _ := s.clearances.book.Of(person, id, 0); c.At != 0 {
			out = append(out, c)
		}
	}
	return out
}

// screened takes from a stretch of a controller's log who was cleared by coming in, and who showed a card at a desk, by
// the server's clock.
func (s *Server) screened(u *unit, events []store.Event) {
	if len(s.current().Config.Screenings) == 0 {
		return
	}
	drift := s.driftOf(u)
	var list []pass.Clearance
	shown := false
	for i := range events {
		e, ok := factOf(&events[i], pass.WasCleared, pass.WasGranted, pass.WasRefused)
		if !ok {
			continue
		}
		switch e.Kind {
		case pass.WasCleared:
			c := pass.Clearance{
				Person: e.Person, Screening: e.Rule, Until: e.Next.OrNever(), At: e.At, Controller: u.id, Seq: e.Pass,
			}
			b := s.current()
			list = append(list, screening.ByClock(c, b.Config.Screening(c.Screening), b.Clock(u.id), -drift))
		case pass.WasGranted, pass.WasRefused:
			if e.Person != 0 && !e.Out && s.isDesk(e.Door) {
				s.clearances.mu.Lock()
				s.clearances.presented[e.Door] = presented{e.Person, e.At - drift}
				s.clearances.mu.Unlock()
				shown = true
			}
		}
	}
	if err := s.keepClearances(s.ctx, u.id, list); err != nil {
		slog.Error("who is cleared could not be kept", "err", err)
	}
	if shown {
		s.hub.send(note{Type: "changed", Changes: []Changed{{Kind: "whereabouts"}}})
	}
}

// factOf reads the fact of an event, where it is of one of some kinds.
func factOf(e *store.Event, kinds ...pass.Kind) (f pass.Fact, ok bool) {
	if !slices.ContainsFunc(kinds, func(k pass.Kind) bool { return k.String() == e.Kind }) {
		return f, false
	}
	return f, json.Unmarshal([]byte(e.Raw), &f) == nil
}

func (s *Server) isDesk(door site.ID) bool {
	return slices.ContainsFunc(s.current().Config.Screenings,
		func(x site.Screening) bool { return slices.Contains(x.DeskIDs, door) })
}

// keepClearances keeps who is cleared, where that is later than what is known, and tells every other controller.
func (s *Server) keepClearances(ctx context.Context, from site.ID, list []pass.Clearance) error {
	s.clearances.mu.Lock()
	list = slices.DeleteFunc(list, func(c pass.Clearance) bool { return !s.clearances.book.Put(c) })
	s.clearances.mu.Unlock()
	if len(list) == 0 {
		return nil
	}
	if err := s.Store.PutClearances(ctx, list); err != nil {
		return err
	}
	var wait sync.WaitGroup
	for _, c := range s.current().Config.Controllers {
		if c.ID != from {
			wait.Go(func() { s.tellCleared(c.ID, list) })
		}
	}
	if from == 0 { // an operator waits to hear that doors know
		wait.Wait()
	}
	s.hub.send(note{Type: "changed", Changes: []Changed{{Kind: "whereabouts"}}})
	return nil
}

// tellCleared tells a controller who is cleared. One that does not answer is told all of it on its return.
func (s *Server) tellCleared(c site.ID, list []pass.Clearance) {
	if !s.answers(c) {
		return
	}
	b, drift := s.current(), s.driftAt(c)
	list = slices.Clone(list)
	for i := range list {
		list[i] = screening.ByClock(list[i], b.Config.Screening(list[i].Screening), b.Clock(c), drift)
	}
	if err := s.call(s.ctx, c, link.OpCleared, link.Cleared{Cleared: list}, nil); err != nil && s.ctx.Err() == nil {
		slog.Warn("a controller could not be told who is cleared", "controller", s.current().Name(c), "err", err)
	}
}

// clearedOnReturn tells a controller that has returned all that is known.
func (s *Server) clearedOnReturn(c site.ID) {
	s.clearances.mu.Lock()
	list := s.clearances.book.All()
	s.clearances.mu.Unlock()
	if len(list) > 0 {
		s.tellCleared(c, list)
	}
}

// ScreeningNow is a screening, what it does, and how its people stand.
type ScreeningNow struct {
	ID      site.ID         `json:"id"`
	Name    string          `json:"name"`
	Words   string          `json:"words"`
	Off     bool            `json:"off"`
	LogOnly bool            `json:"logOnly" doc:"It refuses nobody"`
	Count   int             `json:"count" doc:"How many people are under it"`
	Cleared int             `json:"cleared"`
	People  []SomeoneStands `json:"people" doc:"At most 200: who is cleared first, until soonest; then by name"`
	Desks   []DoorRef       `json:"desks"`
	Passing []DoorRef       `json:"passing"`
	Wrong   []string        `json:"wrong" doc:"What would not work"`
}

// SomeoneStands is how somebody stands with a screening.
type SomeoneStands struct {
	Person store.Place    `json:"person"`
	Stands prove.Standing `json:"stands"`
}

// Presented is who showed a card at a desk last.
type Presented struct {
	Desk   DoorRef          `json:"desk"`
	Person store.Place      `json:"person"`
	When   string           `json:"when"`
	Key    string           `json:"key" doc:"Another one for each card that is shown"`
	Stands []prove.Standing `json:"stands" doc:"Of every screening that they are under; none: nobody screens them"`
}

func (s *Server) standing(b *prove.Book, x *site.Screening, person site.ID, now hours.Instant) prove.Standing {
	s.clearances.mu.Lock()
	said, _ := s.clearances.book.Of(person, x.ID, now)
	s.clearances.mu.Unlock()
	return b.StandingOf(x, person, said, b.ClockOf(x), now)
}

// standings are how somebody stands with every screening that they are under.
func (s *Server) standings(person site.ID) []prove.Standing {
	b, now, out := s.current(), s.now(), []prove.Standing{}
	p := b.Config.Person(person)
	for i := range b.Config.Screenings {
		if x := &b.Config.Screenings[i]; x.Has(p) {
			out = append(out, s.standing(b, x, person, now))
		}
	}
	return out
}

// mostScreened is how many people of a screening are named.
const mostScreened = 200

func (s *Server) screeningsNow() []ScreeningNow {
	b, now, out := s.current(), s.now(), []ScreeningNow{}
	for i := range b.Config.Screenings {
		x := &b.Config.Screenings[i]
		n := ScreeningNow{ID: x.ID, Name: x.Name, Words: b.ScreeningWords(x), Off: x.Off, LogOnly: x.LogOnly,
			People: []SomeoneStands{},
			Desks:  s.refs(x.DeskIDs), Passing: s.refs(x.PassIDs), Wrong: orNone(b.Config.CheckScreening(x))}
		type under struct {
			person *site.Person
			until  hours.Instant // Never + 1: not cleared
		}
		var people []under
		s.clearances.mu.Lock()
		for _, p := range b.Effective.People {
			if !slices.Contains(p.Screened(), x.ID) {
				continue
			}
			u := under{p, hours.Never + 1}
			if c, ok := s.clearances.book.Of(p.ID, x.ID, now); ok {
				u.until = c.Until
				n.Cleared++
			}
			people = append(people, u)
		}
		s.clearances.mu.Unlock()
		n.Count = len(people)
		slices.SortStableFunc(people, func(a, b under) int {
			return cmp.Or(cmp.Compare(a.until, b.until), cmp.Compare(a.person.Name, b.person.Name))
		})
		for _, u := range people[:min(len(people), mostScreened)] {
			n.People = append(n.People, SomeoneStands{s.placeOfPerson(b, u.person.ID), s.standing(b, x, u.person.ID, now)})
		}
		out = append(out, n)
	}
	return out
}

// deskNow is who showed a card at a desk last; nobody after a quarter of an hour.
func (s *Server) deskNow(door site.ID) []Presented {
	b, now := s.current(), s.now()
	s.clearances.mu.Lock()
	list := map[site.ID]presented{}
	for d, p := range s.clearances.presented {
		if (door == 0 || d == door) && now-p.at < 15*hours.Minute {
			list[d] = p
		}
	}
	s.clearances.mu.Unlock()
	out := []Presented{}
	for d, p := range list {
		if b.Door(d) == nil || b.Config.Person(p.person) == nil {
			continue
		}
		out = append(out, Presented{DoorRef{d, b.Name(d)}, s.placeOfPerson(b, p.person), b.When(d, now, p.at),
			fmt.Sprintf("%016d", p.at), s.standings(p.person)})
	}
	slices.SortFunc(out, func(a, b Presented) int { return cmp.Compare(b.Key, a.Key) })
	return out
}

// ClearAsked is that somebody is to be cleared, or no longer.
type ClearAsked struct {
	Screening site.ID   `json:"screening"`
	People    []site.ID `json:"people" minItems:"1" maxItems:"500"`
	Withdraw  bool      `json:"withdraw,omitempty"`
}

// clear clears people at the screen, or withdraws that.
func (s *Server) clear(ctx context.Context, who string, in *ClearAsked) ([]ScreeningNow, error) {
	b, now := s.current(), s.now()
	x := b.Config.Screening(in.Screening)
	if x == nil || x.Off {
		return nil, &store.Taken{Field: "screening", Words: "this screening does not exist, or is not in use; choose another"}
	}
	var list []pass.Clearance
	for i, id := range in.People {
		if !x.Has(b.Config.Person(id)) {
			return nil, &store.Taken{
				Field: "people", Words: b.Name(id) + " is not under " + x.Name + "; put them or their department into it first",
			}
		}
		c := screening.Clear(x, id, b.ClockOf(x), now, who)
		if in.Withdraw {
			c = screening.Withdraw(x, id, now, who)
		}
		s.clearances.mu.Lock()
		if was, _ := s.clearances.book.Of(id, x.ID, now); was.At >= now { // clocks differ a little
			c.At = was.At + 1
		}
		s.clearances.mu.Unlock()
		c.Seq = uint64(i + 1)
		list = append(list, c)
	}
	if err := s.keepClearances(ctx, 0, list); err != nil {
		return nil, err
	}
	words := "cleared: " + x.Name + ", " + x.LastsWords()
	if in.Withdraw {
		words = "no longer cleared: " + x.Name
	}
	name, of := counted(len(list), "person", "people"), site.ID(0)
	if len(list) == 1 {
		name, of = b.Name(list[0].Person), list[0].Person
	}
	return s.screeningsNow(), s.Store.Note(ctx, who, words, "person", of, name)
}

func (s *Server) screeningRoutes(api huma.API) {
	op := func(id, method, path, words string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: path, Summary: words, Tags: []string{"rules"}}
	}
	huma.Register(api, op("screeningsNow", http.MethodGet, "/api/screenings-now", "Who is cleared until when"),
		func(context.Context, *struct{}) (*output[[]ScreeningNow], error) { return give(s.screeningsNow(), nil) })
	huma.Register(api, op("clearPeople", http.MethodPost, "/api/screenings-now", "Clear people, or withdraw that"),
		func(ctx context.Context, in *struct{ Body ClearAsked }) (*output[[]ScreeningNow], error) {
			list, err := s.clear(ctx, s.who(ctx), &in.Body)
			if err != nil {
				return nil, say(err)
			}
			return give(list, nil)
		})
	huma.Register(api, op("deskNow", http.MethodGet, "/api/desk-now", "Who showed a card at a desk last"),
		func(_ context.Context, in *struct {
			Door site.ID `query:"door" doc:"0: at any desk"`
		}) (*output[[]Presented], error) {
			return give(s.deskNow(in.Door), nil)
		})
	huma.Register(api, op("standings", http.MethodGet, "/api/people/{id}/screenings",
		"How somebody stands with what screens them"),
		func(_ context.Context, in *idInput) (*output[[]prove.Standing], error) {
			return give(s.standings(in.ID), nil)
		})
	huma.Register(api, op("screeningMeaning", http.MethodPost, "/api/rules/screening", "What a screening would mean"),
		func(_ context.Context, in *struct{ Body site.Screening }) (*output[prove.ScreeningMeaning], error) {
			return give(s.current().ScreeningMeaning(&in.Body), nil)
		})
}
