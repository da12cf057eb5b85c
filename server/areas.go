package server

import (
	"cmp"
	"context"
	"encoding/json"
	"log/slog"
	"net/http"
	"slices"
	"sync"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/rules/passback"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// whereabouts is who is where, as all controllers saw it.
type whereabouts struct {
	mu   sync.Mutex
	book *passback.Book
}

// AreaNow is an area, what it does, and who is inside.
type AreaNow struct {
	ID     site.ID     `json:"id"`
	Name   string      `json:"name"`
	Words  string      `json:"words"`
	Inside int         `json:"inside"`
	Most   int         `json:"most,omitempty"`
	Ways   []AreaWay   `json:"ways" doc:"The doors that lead in and out"`
	People []SomeoneAt `json:"people" doc:"At most 200, who came in last first"`
}

// AreaWay is a door of an area.
type AreaWay struct {
	DoorRef
	From string `json:"from" doc:"What is on its outside"`
	To   string `json:"to" doc:"What is inside"`
	Out  bool   `json:"out" doc:"A reader leads out; else people leave unseen"`
}

// SomeoneAt is somebody in an area.
type SomeoneAt struct {
	ID    site.ID       `json:"id"`
	Name  string        `json:"name"`
	Since string        `json:"since"`
	At    hours.Instant `json:"-"`
}

// openPlaces reads who is where.
func (s *Server) openPlaces(ctx context.Context) error {
	list, err := s.Store.Places(ctx)
	if err != nil {
		return err
	}
	s.whereabouts.book = passback.NewBook()
	for _, p := range list {
		s.whereabouts.book.Put(p)
	}
	return nil
}

// moved takes what a controller saw, by the server's clock, and tells the others.
func (s *Server) moved(u *unit, events []store.Event) {
	from, drift := u.id, s.driftOf(u)
	var list []pass.Whereabouts
	for i := range events {
		if events[i].Kind != pass.PlaceIs.String() {
			continue
		}
		var e pass.Fact
		if json.Unmarshal([]byte(events[i].Raw), &e) == nil {
			list = append(list, pass.Whereabouts{
				Person: e.Person, Area: e.Area, At: e.At - drift, Controller: from, Seq: e.Pass,
			})
		}
	}
	if err := s.keepPlaces(s.ctx, from, list); err != nil {
		slog.Error("who is where could not be kept", "err", err)
	}
}

// driftOf is how far a controller's clock is ahead of the server's.
func (s *Server) driftOf(u *unit) hours.Instant {
	s.mu.RLock()
	defer s.mu.RUnlock()
	if u.heardAt == 0 {
		return 0
	}
	return u.status.Clock - u.heardAt
}

// driftAt is driftOf a controller by its number.
func (s *Server) driftAt(c site.ID) hours.Instant {
	s.mu.RLock()
	u := s.units[c]
	s.mu.RUnlock()
	if u == nil {
		return 0
	}
	return s.driftOf(u)
}

// keepPlaces keeps where people are, where that is later than what is known, and tells every other controller with
// areas.
func (s *Server) keepPlaces(ctx context.Context, from site.ID, list []pass.Whereabouts) error {
	s.whereabouts.mu.Lock()
	list = slices.DeleteFunc(list, func(p pass.Whereabouts) bool { return !s.whereabouts.book.Put(p) })
	s.whereabouts.mu.Unlock()
	if len(list) == 0 {
		return nil
	}
	if err := s.Store.PutPlaces(ctx, list); err != nil {
		return err
	}
	for _, c := range s.withAreas() {
		if c != from {
			go s.tellPlaces(c, list)
		}
	}
	s.hub.send(note{Type: "changed", Changes: []Changed{{Kind: "whereabouts"}}})
	return nil
}

// withAreas lists the controllers with doors between areas.
func (s *Server) withAreas() (out []site.ID) {
	for _, d := range s.current().Config.Doors {
		if d.OutsideAreaID != d.InsideAreaID && !slices.Contains(out, d.ControllerID) {
			out = append(out, d.ControllerID)
		}
	}
	return out
}

// tellPlaces tells a controller where people are. One that does not answer is told all of it on its return; the order
// does not matter.
func (s *Server) tellPlaces(c site.ID, list []pass.Whereabouts) {
	if !s.answers(c) {
		return
	}
	list, drift := slices.Clone(list), s.driftAt(c)
	for i := range list {
		list[i].At += drift
	}
	if err := s.call(s.ctx, c, link.OpPlaces, link.Places{Places: list}, nil); err != nil && s.ctx.Err() == nil {
		slog.Warn("a controller could not be told who is where", "controller", s.current().Name(c), "err", err)
	}
}

// placesOnReturn tells a controller that has returned all that is known.
func (s *Server) placesOnReturn(c site.ID) {
	if !slices.Contains(s.withAreas(), c) {
		return
	}
	s.whereabouts.mu.Lock()
	list := s.whereabouts.book.Places()
	s.whereabouts.mu.Unlock()
	if len(list) > 0 {
		s.tellPlaces(c, list)
	}
}

// mostInside is how many people of an area are named.
const mostInside = 200

func (s *Server) areasNow() []AreaNow {
	b, now := s.current(), s.now()
	s.whereabouts.mu.Lock()
	places := s.whereabouts.book.Places()
	s.whereabouts.mu.Unlock()
	out := []AreaNow{}
	name := func(id site.ID) string {
		if id == 0 {
			return "outside"
		}
		return b.Name(id)
	}
	for i := range b.Config.Areas {
		a := &b.Config.Areas[i]
		x := AreaNow{ID: a.ID, Name: a.Name, Words: b.AreaWords(a), Most: a.Most, Ways: []AreaWay{}, People: []SomeoneAt{}}
		door := site.ID(0)
		for k := range b.Config.Doors {
			d := &b.Config.Doors[k]
			if d.OutsideAreaID != d.InsideAreaID && (d.InsideAreaID == a.ID || d.OutsideAreaID == a.ID) {
				door = d.ID
				x.Ways = append(x.Ways, AreaWay{DoorRef{d.ID, d.Name}, name(d.OutsideAreaID), name(d.InsideAreaID), d.Out.Fitted})
			}
		}
		since, _ := passback.LastForgotten(a, b.Zone(door), now)
		for _, p := range places {
			if p.Area == a.ID && !p.Unknown && p.At >= since {
				x.People = append(x.People, SomeoneAt{p.Person, b.Name(p.Person), b.When(door, now, p.At), p.At})
			}
		}
		x.Inside = len(x.People)
		slices.SortFunc(x.People,
			func(a, b SomeoneAt) int { return cmp.Or(cmp.Compare(b.At, a.At), cmp.Compare(a.ID, b.ID)) })
		x.People = x.People[:min(len(x.People), mostInside)]
		out = append(out, x)
	}
	return out
}

// Elsewhere is where an operator says that people are.
type Elsewhere struct {
	People []site.ID `json:"people,omitempty" doc:"None listed: everybody in the area, or everybody"`
	Of     site.ID   `json:"of,omitempty" doc:"Everybody in this area; 0: everybody"`
	To     site.ID   `json:"to,omitempty" doc:"Into this area; none with forgive: they may go anywhere once"`
	Out    bool      `json:"out,omitempty" doc:"Outside of all areas"`
}

// move puts people elsewhere, or forgives them: their place becomes unknown.
func (s *Server) move(ctx context.Context, who string, in *Elsewhere) error {
	b, now := s.current(), s.now()
	if in.To != 0 && !slices.ContainsFunc(b.Config.Areas, func(a site.Area) bool { return a.ID == in.To }) {
		return &store.Taken{Field: "to", Words: "this area does not exist, or no longer; choose another"}
	}
	chosen := in.People
	for _, id := range chosen {
		if b.Config.Person(id) == nil && in.To != 0 { // who was removed may be forgiven still
			return &store.Taken{Field: "people", Words: "one of these people does not exist, or no longer"}
		}
	}
	s.whereabouts.mu.Lock()
	if len(chosen) == 0 {
		chosen = s.whereabouts.book.Among(in.Of)
	}
	list := s.whereabouts.book.Move(chosen, in.To, in.To == 0 && !in.Out, now)
	s.whereabouts.mu.Unlock()
	if err := s.keepPlaces(ctx, 0, list); err != nil {
		return err
	}
	words := "forgiven: may go anywhere once"
	if in.To != 0 {
		words = "put into " + b.Name(in.To)
	} else if in.Out {
		words = "put outside"
	}
	name, of := counted(len(list), "person", "people"), site.ID(0)
	if len(list) == 1 {
		name, of = b.Name(list[0].Person), list[0].Person
	}
	return s.Store.Note(ctx, who, words, "person", of, name)
}

func (s *Server) areaRoutes(api huma.API) {
	op := func(id, method, path, words string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: path, Summary: words, Tags: []string{"rules"}}
	}
	huma.Register(api, op("areasNow", http.MethodGet, "/api/areas-now", "Who is where"),
		func(context.Context, *struct{}) (*output[[]AreaNow], error) { return give(s.areasNow(), nil) })
	huma.Register(api, op("movePeople", http.MethodPost, "/api/areas-now", "Put people elsewhere, or forgive them"),
		func(ctx context.Context, in *struct{ Body Elsewhere }) (*output[[]AreaNow], error) {
			if err := s.move(ctx, s.who(ctx), &in.Body); err != nil {
				return nil, say(err)
			}
			return give(s.areasNow(), nil)
		})
	huma.Register(api, op("areaWords", http.MethodPost, "/api/rules/area", "What an area would do"),
		func(_ context.Context, in *struct{ Body site.Area }) (*output[Sentence], error) {
			return give(Sentence{s.current().AreaWords(&in.Body)}, nil)
		})
}
