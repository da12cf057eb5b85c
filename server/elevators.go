package server

import (
	"context"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/elevator"
	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// Shaft is the floors of an elevator as they are now.
type Shaft struct {
	DoorID site.ID          `json:"doorId"`
	Floors []prove.FloorNow `json:"floors" doc:"The lowest first"`
	Live   bool             `json:"live" doc:"The controller said so; else by plan and schedules alone"`
	Now    hours.Instant    `json:"now" doc:"The server's clock, Unix milliseconds"`
	Loud   string           `json:"loud" doc:"Until when its log tells of relays, in words; empty: it does not"`
	Costs  string           `json:"costs" doc:"What a louder log costs"`
	Fire   string           `json:"fire" doc:"What happens in a fire release, in words"`
	Serial string           `json:"serial" doc:"Of its controller"`
}

func (s *Server) shaft(id site.ID) (Shaft, error) {
	b := s.current()
	d := b.Door(id)
	if d == nil || d.Car == nil {
		return Shaft{}, store.ErrMissing
	}
	now := s.now()
	out := Shaft{DoorID: id, Now: now, Costs: b.LouderWords(id), Fire: d.Car.FireWords()}
	if x := b.Config.Controller(d.ControllerID); x != nil {
		out.Serial = x.Serial
	}
	var live []elevator.Floor
	if st, ok := s.doorState(d); ok {
		live, out.Live = st.Floors, len(st.Floors) == len(d.Car.Stops)
		if st.Loud != 0 {
			out.Loud = "until " + b.When(id, now, st.Loud)
		}
	}
	out.Floors = b.Floors(id, now, live)
	return out, nil
}

// doorState is what the controller of a door says of it; ok is false where it does not answer or does not hold it.
func (s *Server) doorState(d *site.Door) (st panel.DoorState, ok bool) {
	s.mu.RLock()
	defer s.mu.RUnlock()
	u := s.units[d.ControllerID]
	if u == nil || !u.online {
		return st, false
	}
	i := slices.IndexFunc(u.status.Doors, func(x panel.DoorState) bool { return x.Door == d.ID })
	if i < 0 {
		return st, false
	}
	return u.status.Doors[i], true
}

// MakeElevator is what is answered to make an elevator.
type MakeElevator struct {
	site.NewElevator
	Preview bool `json:"preview,omitempty" doc:"Say what would be made, and make nothing"`
}

// MadeElevator is what came of it.
type MadeElevator struct {
	Words string  `json:"words"`
	ID    site.ID `json:"id" doc:"Of the elevator; 0: nothing was made"`
}

func (s *Server) makeElevator(ctx context.Context, in *MakeElevator) (MadeElevator, error) {
	f, err := s.settled(ctx)
	if err != nil {
		return MadeElevator{}, err
	}
	m, faults := f.Config.MakeElevator(&in.NewElevator)
	if in.Preview {
		faults = slices.DeleteFunc(faults, func(x site.Fault) bool { return x.Field == "name" }) // it is still being typed
	}
	if len(faults) > 0 {
		return MadeElevator{}, faults
	}
	if in.Preview {
		return MadeElevator{Words: m.Words}, nil
	}
	list, err := elevatorWrites(f, &m)
	if err != nil {
		return MadeElevator{}, err
	}
	if err := s.Store.PutTogether(ctx, s.who(ctx), list...); err != nil {
		return MadeElevator{}, err
	}
	return MadeElevator{m.Words, m.Door.ID}, s.settle(ctx)
}

// elevatorWrites lists what an elevator is made of, in the order in which it is written.
func elevatorWrites(f inForce, m *site.Making) (list []func() (any, int64), err error) {
	for i := range m.Floors {
		if m.Floors[i].ID == 0 {
			list = append(list, func() (any, int64) { return &m.Floors[i], 0 })
		}
	}
	if m.Controller != nil {
		rev, err := f.revOf(m.Controller.ID)
		if err != nil {
			return nil, err
		}
		list = append(list, func() (any, int64) { return m.Controller, rev })
	}
	return append(list, func() (any, int64) {
		m.Stops()
		return &m.Door, 0
	}), nil
}

// SeenFloors is what was seen while the relays of an elevator were tried, one after the other.
type SeenFloors struct {
	Seen []site.Lit `json:"seen" maxItems:"200"`
}

// FloorTest is how an elevator may be wired, by what was seen.
type FloorTest struct {
	Words string          `json:"words"`
	Mends []site.Rewiring `json:"mends" doc:"Ways that agree with all that was seen, the likeliest first"`
}

func (s *Server) floorTest(id site.ID, in *SeenFloors) (FloorTest, error) {
	d := s.current().Door(id)
	if d == nil || d.Car == nil {
		return FloorTest{}, store.ErrMissing
	}
	return FloorTest{d.Car.TestWords(in.Seen), orNone(d.Car.Rewirings(in.Seen))}, nil
}

// rewire gives the stops of an elevator other relays, over the revision that is in force.
func (s *Server) rewire(ctx context.Context, id site.ID, relays []int) (Moved, error) {
	f, err := s.settled(ctx)
	if err != nil {
		return Moved{}, err
	}
	d := f.Config.Door(id)
	if d == nil || d.Car == nil {
		return Moved{}, store.ErrMissing
	}
	next := *d
	car, err := d.Car.Rewired(relays)
	if err != nil {
		return Moved{}, err
	}
	next.Car = &car
	if faults := next.Check(); len(faults) > 0 {
		return Moved{}, faults
	}
	if err := over(ctx, s, f, id, next); err != nil {
		return Moved{}, err
	}
	return Moved{"The floors have the relays that you saw. Send it, then try them once more."}, s.settle(ctx)
}

func (s *Server) elevatorRoutes(api huma.API) {
	huma.Get(api, "/api/elevators/{id}", func(_ context.Context, in *idInput) (*output[Shaft], error) {
		return give(s.shaft(in.ID))
	})
	huma.Register(api, huma.Operation{OperationID: "makeElevator", Method: http.MethodPost, Path: "/api/elevators",
		Summary: "Make an elevator by answering: its floors, its relays, and the expanders that it takes"},
		func(ctx context.Context, in *struct{ Body MakeElevator }) (*output[MadeElevator], error) {
			return give(s.makeElevator(ctx, &in.Body))
		})
	huma.Post(api, "/api/elevators/{id}/seen", func(_ context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body SeenFloors
	}) (*output[FloorTest], error) {
		return give(s.floorTest(in.ID, &in.Body))
	})
	huma.Post(api, "/api/elevators/{id}/rewire", func(ctx context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body struct {
			Relays []int `json:"relays" maxItems:"200" doc:"Of each stop, the lowest first"`
		}
	}) (*output[Moved], error) {
		return give(s.rewire(ctx, in.ID, in.Body.Relays))
	})
	huma.Post(api, "/api/elevators/{id}/louder", func(ctx context.Context, in *struct {
		ID   site.ID `path:"id"`
		Body struct {
			Minutes int `json:"minutes" minimum:"0" maximum:"240" doc:"It ends by itself after these; 0: now"`
		}
	}) (*output[OrderAnswer], error) {
		o := OrderAsked{What: "louder", Targets: []site.Target{{Kind: site.AtDoor, ID: in.ID}}, minutes: in.Body.Minutes}
		if in.Body.Minutes == 0 {
			o.What = "end louder"
		}
		return give(s.order(ctx, &o, s.who(ctx)))
	})
}
