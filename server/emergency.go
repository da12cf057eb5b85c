package server

import (
	"context"
	"log/slog"
	"net/http"
	"slices"
	"sync"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// passing is what controllers began or ended by themselves and the others are still to be told, one after the other, so
// that an end never comes before its beginning; and when emergencies were last ended at the screen.
type passing struct {
	mu    sync.Mutex
	queue []panel.Input
	busy  bool
	ended map[site.ID]hours.Instant
}

// end notes that an emergency was ended at the screen: what a controller that was cut off tells of before counts no
// more.
func (p *passing) end(rule site.ID, now hours.Instant) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.ended == nil {
		p.ended = map[site.ID]hours.Instant{}
	}
	p.ended[rule] = now
}

func (p *passing) endedSince(rule site.ID, at hours.Instant) bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.ended[rule] > at
}

// passOn gives to the other controllers what one began or ended by itself, by a card or an input. Of a stretch of its
// log what came last counts of each.
func (s *Server) passOn(u *unit, events []store.Event) {
	b := s.current()
	if len(b.Config.Emergencies) == 0 {
		return
	}
	drift, last := s.driftOf(u), map[site.ID]panel.Input{}
	for i := range events {
		e, ok := factOf(&events[i], pass.LockdownBegan, pass.LockdownEnded, pass.FireBegan, pass.FireEnded, pass.InputActive)
		if !ok {
			continue
		}
		in, ok := b.PassedOn(&e)
		if !ok || s.passing.endedSince(in.Rule, e.At-drift) {
			continue
		}
		if last[in.Rule].Rule == 0 || last[in.Rule].On != in.On {
			last[in.Rule] = in // the first of its doors is the one where it began
		}
	}
	s.passing.mu.Lock()
	defer s.passing.mu.Unlock()
	for _, in := range last {
		s.passing.queue = append(s.passing.queue, in)
	}
	if !s.passing.busy && len(s.passing.queue) > 0 {
		s.passing.busy = true
		go s.passAll()
	}
}

// passAll tells what is to be told, until nothing is left.
func (s *Server) passAll() {
	for {
		s.passing.mu.Lock()
		if len(s.passing.queue) == 0 {
			s.passing.busy = false
			s.passing.mu.Unlock()
			return
		}
		in := s.passing.queue[0]
		s.passing.queue = s.passing.queue[1:]
		s.passing.mu.Unlock()
		b := s.current()
		order, _ := link.OrderOf(&in)
		order.Doors = nil // each controller is told of its own
		o := ordered{Order: order, by: map[site.ID][]site.ID{}}
		for _, id := range in.Doors {
			if d := b.Door(id); d != nil {
				o.all = append(o.all, id)
				o.by[d.ControllerID] = append(o.by[d.ControllerID], id)
			}
		}
		if _, err := s.give(s.ctx, o, in.Note, false); err != nil && s.ctx.Err() == nil {
			slog.Error("an emergency could not be passed on", "emergency", b.Name(in.Rule), "err", err)
		}
	}
}

// EmergencyNow is a lockdown or a fire release that was made ready, and where it is on.
type EmergencyNow struct {
	ID      site.ID            `json:"id"`
	Name    string             `json:"name"`
	Does    site.EmergencyKind `json:"does" enum:"lockdown,fire release"`
	Words   string             `json:"words"`
	Off     bool               `json:"off"`
	Doors   []DoorRef          `json:"doors"`
	On      []DoorRef          `json:"on" doc:"Where it is on"`
	Unknown []DoorRef          `json:"unknown" doc:"Whose controllers do not answer"`
	Order   string             `json:"order" doc:"What begins it: lockdown or fire"`
}

func (s *Server) emergenciesNow() []EmergencyNow {
	b, out := s.current(), []EmergencyNow{}
	on, known := map[site.ID][]site.ID{}, map[site.ID]bool{}
	s.mu.RLock()
	for _, u := range s.units {
		for i := range u.status.Doors {
			if st := &u.status.Doors[i]; u.online {
				on[st.Door], known[st.Door] = st.Emergencies, true
			}
		}
	}
	s.mu.RUnlock()
	places := site.NewPlaces(b.Config)
	for i := range b.Config.Emergencies {
		x := &b.Config.Emergencies[i]
		n := EmergencyNow{ID: x.ID, Name: x.Name, Does: x.Does, Words: b.EmergencyWords(x), Off: x.Off,
			Doors: s.refs(places.EmergencyDoors(x)),
			On:    []DoorRef{}, Unknown: []DoorRef{}, Order: "lockdown"}
		if x.Does == site.FireRelease {
			n.Order = "fire"
		}
		for _, d := range n.Doors {
			switch {
			case !known[d.ID]:
				n.Unknown = append(n.Unknown, d)
			case slices.Contains(on[d.ID], x.ID):
				n.On = append(n.On, d)
			}
		}
		out = append(out, n)
	}
	return out
}

// AwaitingNow is people who are all there and wait for an operator's word.
type AwaitingNow struct {
	DoorRef
	People []string `json:"people"`
	Until  string   `json:"until"`
}

func (s *Server) awaitingNow() []AwaitingNow {
	b, now, out := s.current(), s.now(), []AwaitingNow{}
	s.mu.RLock()
	defer s.mu.RUnlock()
	for _, u := range s.units {
		for i := range u.status.Doors {
			st := &u.status.Doors[i]
			if u.online && st.Awaiting != nil && b.Door(st.Door) != nil {
				x := AwaitingNow{DoorRef{st.Door, b.Name(st.Door)}, nil, b.Zone(st.Door).Time(st.Awaiting.Until).Format("15:04:05")}
				for _, p := range st.Awaiting.People {
					x.People = append(x.People, b.Name(p))
				}
				if st.Awaiting.Until > now {
					out = append(out, x)
				}
			}
		}
	}
	slices.SortFunc(out, func(a, b AwaitingNow) int { return int(a.ID - b.ID) })
	return out
}

func (s *Server) emergencyRoutes(api huma.API) {
	op := func(id, method, path, words string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: path, Summary: words, Tags: []string{"rules"}}
	}
	huma.Register(api,
		op("emergenciesNow", http.MethodGet, "/api/emergencies-now", "Lockdowns and fire releases, and where they are on"),
		func(context.Context, *struct{}) (*output[[]EmergencyNow], error) {
			return give(s.emergenciesNow(), nil)
		})
	huma.Register(api,
		op("rehearse", http.MethodPost, "/api/rules/emergency",
			"What a lockdown or a fire release would do now; it changes nothing"),
		func(_ context.Context, in *struct{ Body site.Emergency }) (*output[prove.Rehearsal], error) {
			return give(s.current().Rehearse(&in.Body, s.now()), nil)
		})
	huma.Register(api, op("awaitingNow", http.MethodGet, "/api/awaiting-now", "People who wait for an operator's word"),
		func(context.Context, *struct{}) (*output[[]AwaitingNow], error) { return give(s.awaitingNow(), nil) })
}
