package server

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// AlarmAreaNow is an alarm area, and what it is in.
type AlarmAreaNow struct {
	ID         site.ID                `json:"id"`
	Name       string                 `json:"name"`
	Controller string                 `json:"controller"`
	Off        bool                   `json:"off"`
	State      string                 `json:"state" enum:"disarmed,leaving,armed,entering,alarm,unknown" doc:"Unknown: its controller does not answer, or has not been sent it yet"`
	Words      string                 `json:"words" doc:"What it is in, since when and by whom; of unknown: why"`
	Until      hours.Instant          `json:"until,omitempty" doc:"Of a delay or of what sounds: when it ends, by the server's clock, Unix milliseconds"`
	Called     string                 `json:"called" doc:"The state as people say it"`
	Closed     bool                   `json:"closed" doc:"It keeps out those who may not disarm it"`
	Members    []AlarmMember          `json:"members" doc:"Its doors and inputs"`
	Meaning    prove.AlarmAreaMeaning `json:"meaning"`
}

// AlarmMember is a door or an input of an alarm area.
type AlarmMember struct {
	ID     site.ID `json:"id"`
	Name   string  `json:"name"`
	Input  bool    `json:"input" doc:"Else it is a door"`
	OnWay  bool    `json:"onWay" doc:"It lies on the way in and out"`
	Open   bool    `json:"open" doc:"It stands open, or its wire is in trouble: it prevents arming"`
	Left   bool    `json:"left" doc:"It was left out on purpose"`
	Raised bool    `json:"raised" doc:"It has raised the alarm that is on"`
}

// areaState finds what a controller tells of an alarm area; ok is false where it tells nothing.
func (s *Server) areaState(a *site.AlarmArea) (n alarmarea.Now, why string, ok bool) {
	b := s.current()
	c := b.Config.AlarmController(a)
	drift := s.driftAt(c)
	s.mu.RLock()
	defer s.mu.RUnlock()
	u := s.units[c]
	if u == nil || !u.online {
		return n, b.Name(c) + " does not answer", false
	}
	for _, x := range u.status.Areas {
		if x.Area == a.ID {
			x.Until, x.Since = byServer(x.Until, drift), byServer(x.Since, drift)
			return x, "", true
		}
	}
	return n, "It is not sent yet: " + b.Name(c) + " does not know it", false
}

// byServer is an instant of a controller by the server's clock; 0 stays none.
func byServer(t, drift hours.Instant) hours.Instant {
	if t == 0 {
		return 0
	}
	return t - drift
}

func (s *Server) alarmAreaNow(b *prove.Book, a *site.AlarmArea) AlarmAreaNow {
	out := AlarmAreaNow{
		ID: a.ID, Name: a.Name, Off: a.Off, State: "unknown", Called: "not known",
		Controller: b.Name(b.Config.AlarmController(a)), Meaning: b.MeaningOfAlarmArea(a),
		Members: []AlarmMember{},
	}
	n, why, ok := s.areaState(a)
	switch {
	case a.Off:
		out.Called, out.Words = "not in use", "Not in use"
	case !ok:
		out.Words = why
	default:
		out.State, out.Called, out.Closed = n.State.String(), n.State.Words(), n.State.Closed()
		out.Words, out.Until = b.AlarmStateWords(&n, s.now()), n.Until
	}
	add := func(id site.ID, input, way bool) {
		out.Members = append(out.Members, AlarmMember{id, b.Name(id), input, way, slices.Contains(n.StandOpen, id),
			slices.Contains(n.Left, id), slices.Contains(n.Raised, id)})
	}
	for _, id := range a.DoorIDs {
		add(id, false, false)
	}
	for _, w := range a.Inputs {
		add(w.InputID, true, w.OnWay)
	}
	return out
}

func (s *Server) alarmAreasNow() []AlarmAreaNow {
	b, out := s.current(), []AlarmAreaNow{}
	for i := range b.Config.AlarmAreas {
		out = append(out, s.alarmAreaNow(b, &b.Config.AlarmAreas[i]))
	}
	return out
}

// guard is what the band says of the alarm areas: which are armed, how many, and whether one is in alarm.
func (s *Server) guard() (words string, n int, alarm bool) {
	b := s.current()
	var armed, alarms []string
	for i := range b.Config.AlarmAreas {
		a := &b.Config.AlarmAreas[i]
		switch n, _, ok := s.areaState(a); {
		case !ok || a.Off:
		case n.State == alarmarea.Alarm:
			alarms = append(alarms, a.Name)
		case n.State.Closed():
			armed = append(armed, a.Name)
		}
	}
	return prove.GuardWords(armed, alarms), len(armed) + len(alarms), len(alarms) > 0
}

// ArmWish is how an alarm area is armed.
type ArmWish struct {
	Left []site.ID `json:"left" maxItems:"500" doc:"Doors and inputs of it that are left out on purpose"`
}

// arm arms an alarm area, without what is left out on purpose. Where something else stands open it says so.
func (s *Server) arm(ctx context.Context, id site.ID, left []site.ID) (AlarmAreaNow, error) {
	b, now, err := s.orderArea(ctx, id, link.Order{What: "arm", Left: left})
	if err != nil {
		return now, err
	}
	if !now.Closed {
		words := now.Name + " is not armed: " + now.Words + ". Close it, or leave it out"
		return now, &store.Taken{Field: "left", Words: words}
	}
	words := "armed"
	if len(left) > 0 {
		words += " without " + strings.Join(namesOf(b, left), ", ")
	}
	return now, s.Store.Note(ctx, s.who(ctx), words, "alarm area", id, now.Name)
}

func (s *Server) disarm(ctx context.Context, id site.ID) (AlarmAreaNow, error) {
	_, now, err := s.orderArea(ctx, id, link.Order{What: "disarm"})
	if err != nil {
		return now, err
	}
	return now, s.Store.Note(ctx, s.who(ctx), "disarmed", "alarm area", id, now.Name)
}

// orderArea gives the controller of an alarm area an order, now; one that does not answer is told of it no later.
func (s *Server) orderArea(ctx context.Context, id site.ID, o link.Order) (*prove.Book, AlarmAreaNow, error) {
	b := s.current()
	a, faults := b.ArmOrder(id, o.Left)
	if len(faults) > 0 {
		return b, AlarmAreaNow{}, &store.Taken{Field: faults[0].Field, Words: faults[0].Words}
	}
	if _, why, ok := s.areaState(a); !ok {
		return b, AlarmAreaNow{}, huma.Error503ServiceUnavailable(why + ". Nothing was done.")
	}
	c := b.Config.AlarmController(a)
	o.Rule, o.Note, o.Doors = id, s.who(ctx), a.DoorIDs
	one := s.oneOrder(c)
	one.Lock()
	err := s.callNow(ctx, c, o)
	one.Unlock()
	if err != nil {
		return b, AlarmAreaNow{}, huma.Error503ServiceUnavailable(b.Name(c) + " does not answer. Nothing was done.")
	}
	s.poke()
	return b, s.alarmAreaNow(b, a), nil
}

func namesOf(b *prove.Book, ids []site.ID) (out []string) {
	for _, id := range ids {
		out = append(out, b.Name(id))
	}
	return out
}

func (s *Server) alarmAreaRoutes(api huma.API) {
	op := func(id, method, path, words string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: path, Summary: words, Tags: []string{"rules"}}
	}
	huma.Register(api, op("alarmAreasNow", http.MethodGet, "/api/alarm-areas-now", "Alarm areas, and what they are in"),
		func(context.Context, *struct{}) (*output[[]AlarmAreaNow], error) { return give(s.alarmAreasNow(), nil) })
	huma.Register(api, op("alarmAreaMeaning", http.MethodPost, "/api/rules/alarm-area",
		"What an alarm area does; it need not be saved"),
		func(_ context.Context, in *struct{ Body site.AlarmArea }) (*output[prove.AlarmAreaMeaning], error) {
			return give(s.current().MeaningOfAlarmArea(&in.Body), nil)
		})
	huma.Register(api, op("arm", http.MethodPost, "/api/alarm-areas/{id}/arm", "Arms an alarm area"),
		func(ctx context.Context, in *struct {
			ID   site.ID `path:"id"`
			Body ArmWish
		}) (*output[AlarmAreaNow], error) {
			return give(s.arm(ctx, in.ID, in.Body.Left))
		})
	huma.Register(api, op("disarm", http.MethodPost, "/api/alarm-areas/{id}/disarm", "Disarms an alarm area"),
		func(ctx context.Context, in *struct {
			ID site.ID `path:"id"`
		}) (*output[AlarmAreaNow], error) {
			return give(s.disarm(ctx, in.ID))
		})
}
