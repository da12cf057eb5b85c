package server

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/prove"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/store"
)

// OrderAsked is what an operator wants of doors, now and by hand.
type OrderAsked struct {
	What    string        `json:"what" enum:"release,hold,back,lift,confirm,refuse,lockdown,end lockdown,fire,end fire,louder,end louder" doc:"Back: to what the plan says"`
	Floors  []site.ID     `json:"floors,omitempty" maxItems:"128" doc:"Of release, of an elevator: the floors; none: all"`
	Targets []site.Target `json:"targets,omitempty" doc:"Doors, door sets, floors, sites, or everything"`
	Mode    hours.Mode    `json:"mode,omitempty" doc:"Of hold"`
	// Emergency takes the place of targets.
	Emergency site.ID `json:"emergency,omitempty" doc:"Of lockdown and fire: one that was made ready, in place of targets"`
	Until     string  `json:"until,omitempty" doc:"Of hold: by the clock of the first door, 2006-01-02T15:04; empty: until it is ended"`
	Why       string  `json:"why,omitempty" maxLength:"120" doc:"Asked for where doors are barred"`
	Preview   bool    `json:"preview,omitempty" doc:"Say what would happen, and do nothing"`

	minutes int // for which the log of an elevator is louder
}

// OrderAnswer is what came of an order.
type OrderAnswer struct {
	Words   string      `json:"words" doc:"What it does, as a sentence"`
	Answers []OrderTold `json:"answers" doc:"What each controller answered"`
	Left    []DoorRef   `json:"left" doc:"Doors that are left out: their sheet says that they are not released from afar"`
}

// OrderTold is what one controller answered.
type OrderTold struct {
	Controller string    `json:"controller"`
	Doors      []DoorRef `json:"doors"`
	Reached    bool      `json:"reached"`
	Words      string    `json:"words"`
}

// orders are those that wait for controllers that did not answer, by controller.
type orders map[site.ID][]link.Order

const ordersWaiting = "orders waiting"

// ordered is an order, worked out: which doors of which controller.
type ordered struct {
	link.Order
	by   map[site.ID][]site.ID
	all  []site.ID
	left []DoorRef
}

// workOut finds the doors that an order is for, and refuses what cannot be meant.
func (s *Server) workOut(in *OrderAsked, who string) (o ordered, err error) {
	b := s.current()
	x, faults := b.WorkOut(&prove.Order{
		What: in.What, Targets: in.Targets, Emergency: in.Emergency, Mode: in.Mode, Why: in.Why,
	})
	if len(faults) > 0 {
		return o, &store.Taken{Field: faults[0].Field, Words: faults[0].Words}
	}
	o = ordered{
		Order: link.Order{What: in.What, Mode: in.Mode, Rule: in.Emergency, Note: who, Floors: in.Floors,
			Minutes: in.minutes}, by: map[site.ID][]site.ID{}, all: x.Doors, left: s.refs(x.Left),
	}
	for _, id := range x.Doors {
		c := b.Door(id).ControllerID
		o.by[c] = append(o.by[c], id)
	}
	if x.Why != "" {
		o.Note += ": " + x.Why
	}
	if in.Until != "" && len(o.all) > 0 {
		if o.Until, err = s.untilOf(o.all[0], in.Until); err != nil {
			return o, err
		}
	}
	return o, nil
}

// untilOf reads when a hold ends, by the clock of a door.
func (s *Server) untilOf(door site.ID, text string) (hours.Instant, error) {
	day, minute, err := site.ParseWall(text)
	if err != nil {
		return 0, &store.Taken{Field: "until", Words: "write a date and a time, such as 2026-11-27T18:00"}
	}
	at := s.current().Zone(door).Resolve(day, minute)
	if at <= s.now() {
		return 0, &store.Taken{Field: "until", Words: "this is past; choose a later time, or until it is ended"}
	}
	return at, nil
}

func (s *Server) refs(ids []site.ID) []DoorRef {
	b, out := s.current(), make([]DoorRef, len(ids))
	for i, id := range ids {
		out[i] = DoorRef{id, b.Name(id)}
	}
	return out
}

// order gives an order to every controller at once. Those that do not answer are told on their return, but for a single
// release, which is for now.
func (s *Server) order(ctx context.Context, in *OrderAsked, who string) (OrderAnswer, error) {
	o, err := s.workOut(in, who)
	if err != nil {
		return OrderAnswer{}, err
	}
	if !in.Preview && in.Emergency != 0 && strings.HasPrefix(in.What, "end ") {
		s.passing.end(in.Emergency, s.now())
	}
	return s.give(ctx, o, who, in.Preview)
}

// give gives an order that was worked out.
func (s *Server) give(ctx context.Context, o ordered, who string, preview bool) (OrderAnswer, error) {
	out := OrderAnswer{Answers: []OrderTold{}, Left: orNone(o.left)}
	unreached := 0
	for c, doors := range o.by {
		if !s.answers(c) {
			unreached += len(doors)
		}
	}
	if len(o.all) > 0 {
		out.Words = s.current().OrderWords(o.What, o.Mode, o.all, o.Floors, unreached)
		if x := s.current().Config.Emergency(o.Rule); x != nil {
			out.Words = x.Name + ": " + out.Words
		}
	}
	if preview || len(o.all) == 0 {
		return out, nil
	}
	var mu sync.Mutex
	var wait sync.WaitGroup
	for c, doors := range o.by {
		wait.Go(func() {
			told := s.orderAt(ctx, c, doors, o.Order)
			mu.Lock()
			defer mu.Unlock()
			out.Answers = append(out.Answers, told)
		})
	}
	wait.Wait()
	slices.SortFunc(out.Answers, func(a, b OrderTold) int { return strings.Compare(a.Controller, b.Controller) })
	s.poke()
	if x := s.current().Config.Emergency(o.Rule); x != nil {
		return out, s.Store.Note(ctx, who, s.orderNote(&o), "emergency", x.ID, x.Name)
	}
	return out, s.Store.Note(ctx, who, s.orderNote(&o), "door", o.all[0], strings.TrimSuffix(out.Words, "."))
}

// orderNote is what the history says of an order.
func (s *Server) orderNote(o *ordered) string {
	words := map[string]string{
		"release": "released once", "back": "back to plan", "lift": "keypad lock lifted", "confirm": "let in who waited",
		"refuse": "refused who waited", "lockdown": "lockdown", "end lockdown": "lockdown ended",
		"louder": "louder log", "end louder": "louder log ended",
		"fire": "fire release", "end fire": "fire release ended",
	}[o.What]
	if words == "" {
		words = "held " + o.Mode.String()
	}
	if _, why, ok := strings.Cut(o.Note, ": "); ok {
		words += ": " + why
	}
	return words
}

func (s *Server) answers(controller site.ID) bool {
	s.mu.RLock()
	defer s.mu.RUnlock()
	u := s.units[controller]
	return u != nil && u.online
}

// orderAt gives one controller its part of an order.
func (s *Server) orderAt(ctx context.Context, c site.ID, doors []site.ID, o link.Order) OrderTold {
	o.Doors = doors
	told := OrderTold{Controller: s.current().Name(c), Doors: s.refs(doors), Reached: true, Words: "done"}
	one := s.oneOrder(c)
	one.Lock()
	defer one.Unlock()
	began := time.Now()
	err := s.callNow(ctx, c, o)
	if err == nil {
		told.Words = fmt.Sprintf("done, after %d ms", time.Since(began).Milliseconds())
		if err := s.keepOrder(ctx, c, o, false); err != nil {
			told.Words += "; an earlier order is still kept for it: " + err.Error()
		}
		return told
	}
	told.Reached, told.Words = false, "does not answer; it is told on its return"
	if prove.Passing(o.What) {
		told.Words = "does not answer; nothing was done"
		return told
	}
	if !errors.Is(err, errNotThere) {
		told.Words = err.Error()
	}
	if err := s.keepOrder(ctx, c, o, true); err != nil {
		told.Words = "does not answer, and the order could not be kept: " + err.Error()
	}
	return told
}

// oneOrder lets a controller be told of one order at a time, so that an older one never comes after a newer.
func (s *Server) oneOrder(c site.ID) *sync.Mutex {
	m, _ := s.orderLocks.LoadOrStore(c, new(sync.Mutex))
	return m.(*sync.Mutex)
}

// callNow tells a controller, and takes what it answers as its state.
func (s *Server) callNow(ctx context.Context, c site.ID, o link.Order) error {
	if !s.answers(c) {
		return errNotThere
	}
	var st link.Status
	if err := s.call(ctx, c, link.OpOrder, o, &st); err != nil {
		return err
	}
	s.mu.Lock()
	if u := s.units[c]; u != nil && u.online {
		u.status.Doors, u.status.Areas = st.Doors, st.Areas
	}
	s.mu.Unlock()
	return nil
}

// keepOrder keeps an order for a controller's return, or forgets what it takes the place of: of one door the last order
// counts.
func (s *Server) keepOrder(ctx context.Context, c site.ID, o link.Order, keep bool) error {
	s.aheadMu.Lock()
	defer s.aheadMu.Unlock()
	waiting := orders{}
	had, err := s.Store.Recall(ctx, ordersWaiting, &waiting)
	if err != nil || !had && !keep {
		return err
	}
	var left []link.Order
	for _, x := range waiting[c] {
		if prove.Replaces(o.What, x.What, o.Rule, x.Rule) {
			x.Doors = slices.DeleteFunc(x.Doors, func(d site.ID) bool { return slices.Contains(o.Doors, d) })
		}
		if len(x.Doors) > 0 {
			left = append(left, x)
		}
	}
	if keep {
		left = append(left, o)
	}
	waiting = maps.Clone(waiting)
	if waiting[c] = left; len(left) == 0 {
		delete(waiting, c)
	}
	return s.Store.Remember(ctx, ordersWaiting, waiting)
}

// ordersOnReturn tells a controller that has returned of the orders that it missed, unless they have ended since.
func (s *Server) ordersOnReturn(id site.ID) {
	one := s.oneOrder(id)
	one.Lock()
	defer one.Unlock()
	s.aheadMu.Lock()
	waiting := orders{}
	_, err := s.Store.Recall(s.ctx, ordersWaiting, &waiting)
	list := waiting[id]
	if err == nil && len(list) > 0 {
		delete(waiting, id)
		err = s.Store.Remember(s.ctx, ordersWaiting, waiting)
	}
	s.aheadMu.Unlock()
	if err != nil {
		return
	}
	for _, o := range list {
		if err := s.callNow(s.ctx, id, o); err != nil {
			slog.Warn("an order could not be told", "controller", s.current().Name(id), "err", err)
			if err := s.keepOrder(s.ctx, id, o, true); err != nil { // tried again on its next return
				slog.Error("an order is lost", "controller", s.current().Name(id), "order", o.What, "err", err)
			}
		}
	}
	s.poke()
}

// HeldDoor is a door that an operator does something with now.
type HeldDoor struct {
	DoorRef
	Site  string     `json:"site"`
	Hand  string     `json:"hand"`
	Mode  hours.Mode `json:"mode"`
	By    string     `json:"by"`
	Since string     `json:"since"`
	Until string     `json:"until" doc:"In words"`
}

func (s *Server) heldDoors() []HeldDoor {
	b, now := s.current(), s.now()
	out := []HeldDoor{}
	places := site.NewPlaces(b.Config)
	s.mu.RLock()
	defer s.mu.RUnlock()
	for _, u := range s.units {
		if !u.online {
			continue
		}
		for i := range u.status.Doors {
			st := &u.status.Doors[i]
			d := b.Door(st.Door)
			hand := handOf(st)
			if d != nil && st.Keypad > now {
				out = append(out, HeldDoor{
					DoorRef: DoorRef{d.ID, d.Name}, Site: b.Name(places.Site(d.FloorID)), Hand: "keypad locked",
					Mode: st.Mode, By: "wrong PINs", Until: "until " + b.When(d.ID, now, st.Keypad),
				})
			}
			if d != nil {
				out = append(out, s.lockedCards(b, d, st, now)...)
			}
			if d == nil || hand == "" {
				continue
			}
			h := HeldDoor{
				DoorRef: DoorRef{d.ID, d.Name}, Site: b.Name(places.Site(d.FloorID)), Hand: hand, Mode: st.Mode,
				Until: "until it is ended",
			}
			if st.Held != nil && strings.HasPrefix(hand, "held") {
				h.By, h.Since = st.Held.By, b.When(d.ID, now, st.Held.Since)
				if st.Held.Until != 0 {
					h.Until = "until " + b.When(d.ID, now, st.Held.Until)
				}
			}
			for _, id := range st.Emergencies {
				if x := b.Config.Emergency(id); x != nil {
					h.By = strings.TrimPrefix(h.By+", "+x.Name, ", ")
				}
			}
			out = append(out, h)
		}
	}
	slices.SortFunc(out, func(a, b HeldDoor) int { return strings.Compare(a.Name, b.Name) })
	return out
}

// lockedCards are those that wrong PINs locked at a door.
func (s *Server) lockedCards(b *prove.Book, d *site.Door, st *panel.DoorState, now hours.Instant) (out []HeldDoor) {
	for _, x := range st.LockedCards {
		if x.Until > now {
			out = append(out, HeldDoor{
				DoorRef: DoorRef{d.ID, d.Name}, Site: b.Config.SiteOf(d).Name, Hand: "card locked", Mode: st.Mode,
				By: b.Name(x.Person) + ", wrong PINs", Until: "until " + b.When(d.ID, now, x.Until),
			})
		}
	}
	return out
}

func (s *Server) orderRoutes(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "order", Method: http.MethodPost, Path: "/api/orders",
		Tags:    []string{"rules"},
		Summary: "Release, hold, lock down or let go of doors by hand"},
		func(ctx context.Context, in *struct{ Body OrderAsked }) (*output[OrderAnswer], error) {
			return give(s.order(ctx, &in.Body, s.who(ctx)))
		})
	huma.Register(api, huma.Operation{OperationID: "held", Method: http.MethodGet, Path: "/api/held",
		Tags:    []string{"rules"},
		Summary: "The doors that an operator does something with now"},
		func(context.Context, *struct{}) (*output[[]HeldDoor], error) { return give(s.heldDoors(), nil) })
}
