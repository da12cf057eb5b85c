package server

import (
	"context"
	"log/slog"
	"strconv"
	"strings"
	"sync"
	"time"

	"amberkeystone/core/elevator"
	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/review"
	"amberkeystone/core/site"
)

// Counts are what waits at the stations.
type Counts struct {
	Lacking int `json:"lacking" doc:"Controllers that lack something"`
	Alarms  int `json:"alarms" doc:"Alarms that nobody has acknowledged"`
	Found   int `json:"found" doc:"Controllers that answer and are not in service anywhere"`
	Finds   int `json:"findings" doc:"Findings in the hours that are wrong or risky"`
	People  int `json:"people" doc:"Findings about people and what they hold that are wrong or risky"`
	Rules   int `json:"rules" doc:"Findings about rules that are wrong or risky"`
	// Guard is of the alarm areas.
	Guard     string `json:"guard" doc:"Which alarm areas are armed, or in alarm, in short; none: all are disarmed"`
	Armed     int    `json:"armed" doc:"How many alarm areas are armed"`
	Intrusion bool   `json:"intrusion" doc:"One of them is in alarm"`
	Build     int    `json:"build" doc:"Findings in what is built that are wrong or risky"`
}

// Patch is what has changed of the live state since the patch before: the doors and controllers that differ, whole, and
// the counts.
type Patch struct {
	Seq    int64       `json:"seq"`
	Doors  []DoorPlace `json:"doors,omitempty"`
	Units  []Unit      `json:"units,omitempty"`
	Counts Counts      `json:"counts"`
}

// states is the live state as the screens were last told. An overview is read from it, so that an overview and the
// patches with higher numbers that follow it are the state, however they overtake each other on their way.
type states struct {
	mu     sync.Mutex
	seq    int64
	doors  map[site.ID]DoorPlace
	units  map[site.ID]Unit
	counts Counts
	poked  chan struct{}
}

func newStates() *states {
	return &states{doors: map[site.ID]DoorPlace{}, units: map[site.ID]Unit{}, poked: make(chan struct{}, 1)}
}

// How long the live state rests between two looks at it, so that many changes are one patch.
const stateRest = 150 * time.Millisecond

// poke has the live state looked at soon.
func (s *Server) poke() {
	select {
	case s.states.poked <- struct{}{}:
	default:
	}
}

// tellStates tells the screens what changes, until the server closes.
func (s *Server) tellStates() {
	for {
		select {
		case <-s.ctx.Done():
			return
		case <-s.states.poked:
		}
		if s.hub.empty() {
			continue
		}
		if err := s.lookAtStates(s.ctx); err != nil && s.ctx.Err() == nil {
			slog.Warn("the live state cannot be told; it is tried again with the next change", "err", err)
		}
		select {
		case <-s.ctx.Done():
			return
		case <-time.After(stateRest):
		}
	}
}

// lookAtStates reads the live state and tells the screens what differs from what they were told last.
func (s *Server) lookAtStates(ctx context.Context) error {
	st := s.states
	st.mu.Lock()
	defer st.mu.Unlock()
	counts, err := s.countsNow(ctx)
	if err != nil {
		return err
	}
	p := Patch{Counts: counts}
	doors := s.doorsNow()
	for _, d := range doors {
		if was, ok := st.doors[d.ID]; !ok || was != d {
			p.Doors = append(p.Doors, d)
			st.doors[d.ID] = d
		}
	}
	if len(st.doors) > len(doors) { // some are no more; nobody asks for those
		st.doors = map[site.ID]DoorPlace{}
		for _, d := range doors {
			st.doors[d.ID] = d
		}
	}
	units := map[site.ID]Unit{}
	for _, u := range s.unitsNow() {
		units[u.ID] = u
		if was, ok := st.units[u.ID]; !ok || !was.same(u) {
			p.Units = append(p.Units, u)
		} else {
			units[u.ID] = was
		}
	}
	st.units = units
	if len(p.Doors) == 0 && len(p.Units) == 0 && counts == st.counts {
		return nil
	}
	st.counts = counts
	st.seq++
	p.Seq = st.seq
	s.hub.send(note{Type: "state", State: &p})
	return nil
}

// same reports whether two states of a controller are told alike: its clock is always some milliseconds off.
func (u Unit) same(v Unit) bool {
	close := u.DriftMs - v.DriftMs
	u.DriftMs, v.DriftMs = 0, 0
	su, sv := u.Sending, v.Sending
	u.Sending, v.Sending = nil, nil
	sending := su == nil && sv == nil || su != nil && sv != nil && *su == *sv
	return u == v && sending && -1000 < close && close < 1000
}

func (s *Server) countsNow(ctx context.Context) (c Counts, err error) {
	if c.Alarms, err = s.Store.Alarms(ctx); err != nil {
		return c, err
	}
	if c.Lacking, err = s.lacking(ctx); err != nil {
		return c, err
	}
	for _, f := range s.findings() {
		switch {
		case f.Severity == review.Untidy:
		case f.Station == "build":
			c.Build++
		case f.Station == "people":
			c.People++
		case f.Station == "rules":
			c.Rules++
		default:
			c.Finds++
		}
	}
	c.Guard, c.Armed, c.Intrusion = s.guard()
	s.mu.RLock()
	defer s.mu.RUnlock()
	keyed := map[string]bool{}
	for _, x := range s.force.Config.Controllers {
		keyed[x.Serial] = true
	}
	for _, v := range s.racks {
		if !v.Keyed && !keyed[v.Serial] {
			c.Found++
		}
	}
	return c, nil
}

// handOf says what an operator does with a door.
func handOf(st *panel.DoorState) string {
	switch {
	case st.Layer == hours.FireRelease:
		return "fire release"
	case st.Layer == hours.Lockdown:
		return "lockdown"
	case st.Held == nil:
		return ""
	case st.Held.Mode == hours.Free:
		return "held free"
	case st.Held.Mode == hours.Barred:
		return "held barred"
	}
	return "held"
}

// releasedFloors lists the places of the floors that are not held.
func releasedFloors(floors []elevator.Floor) string {
	var out []string
	for i, f := range floors {
		if f.Why.On() {
			out = append(out, strconv.Itoa(i))
		}
	}
	return strings.Join(out, " ")
}

// doorsNow is what each door asks now: as its controller says, else as its plan says.
func (s *Server) doorsNow() []DoorPlace {
	b, now := s.current(), s.now()
	s.mu.RLock()
	defer s.mu.RUnlock()
	type at struct{ unit, door site.ID }
	said := map[at]panel.DoorState{}
	for id, u := range s.units {
		for _, st := range u.status.Doors {
			said[at{id, st.Door}] = st
		}
	}
	out := make([]DoorPlace, 0, len(b.Config.Doors))
	for _, d := range b.Config.Doors {
		p := DoorPlace{ID: d.ID, Name: d.Name, Offline: true, OutOfUse: d.OutOfUse, Order: d.Order, Elevator: d.Car != nil}
		u := s.units[d.ControllerID]
		if u != nil {
			p.Offline = !u.online
		}
		if st, ok := said[at{d.ControllerID, d.ID}]; ok && u != nil && u.online {
			p.Released = releasedFloors(st.Floors)
			p.Mode, p.Waits, p.Live, p.Open, p.Alarm = st.Mode, st.Waits, true, st.Open, st.Alarm
			p.Hand, p.Awaits = handOf(&st), st.Awaiting != nil && st.Awaiting.Until > now
		} else {
			p.Mode = b.ModeAt(d.ID, now)
		}
		out = append(out, p)
	}
	return out
}
