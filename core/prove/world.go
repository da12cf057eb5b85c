package prove

import (
	"fmt"

	"amberkeystone/core/pass"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/rules/alarmarea"
	"amberkeystone/core/rules/passback"
	"amberkeystone/core/site"
)

// World is controllers at work in simulated time: each runs the panel that a real one runs, on the image that it would
// hold. Time passes only when it is asked to, from one thing that falls due to the next, so a year takes as long as
// there is to do in it. The same book, instants and inputs give the same events, to the byte.
type World struct {
	book  *Book
	now   hours.Instant
	units []worldUnit
	place map[site.ID]int // of each controller in units
	relay []panel.Input   // orders that concern all of them, in their order
	told  func(controller site.ID, e *pass.Fact)

	reacts Relay          // to what happens, as a server would
	people *passback.Book // where they are, as all controllers saw it
}

type worldUnit struct {
	id     site.ID
	panel  *panel.Panel
	wake   hours.Instant
	cut    bool        // off the network
	kept   []pass.Fact // that nobody has heard of yet, and that something may follow from
	cursor int         // of the relay: what it was told last
}

// NewWorld starts controllers of a book at an instant, none listed: all. Told hears every event in the order in which
// it happens; of equal instants the controller that comes first in the configuration is first. The event is told's
// to read until it returns.
func NewWorld(
	b *Book,
	at hours.Instant,
	secrets image.Secrets,
	told func(controller site.ID, e *pass.Fact),
	controllers ...site.ID,
) *World {
	w := &World{book: b, now: at, place: map[site.ID]int{}, told: told, people: passback.NewBook()}
	chosen, shared := map[site.ID]bool{}, map[*hours.Zone]*image.Shared{}
	for _, id := range controllers {
		chosen[id] = true
	}
	for i := range b.Config.Controllers {
		id := b.Config.Controllers[i].ID
		if len(chosen) > 0 && !chosen[id] {
			continue
		}
		z := b.Clock(id)
		if shared[z] == nil {
			shared[z] = image.NewShared(b.Config, b.times, z)
		}
		c := shared[z].Compile(id, secrets)
		w.place[id] = len(w.units)
		w.units = append(w.units, worldUnit{id: id, panel: panel.New(c, 0)})
	}
	for i := range w.units {
		w.take(i, w.units[i].panel.Start(at))
	}
	return w
}

// Now returns the instant that it is.
func (w *World) Now() hours.Instant { return w.now }

// Run lets time pass up to and with an instant: what falls due is done, each thing at its own instant.
func (w *World) Run(to hours.Instant) {
	for {
		i := w.next()
		if i < 0 || w.units[i].wake > to {
			break
		}
		w.now = max(w.now, w.units[i].wake)
		w.take(i, w.units[i].panel.Step(w.now, panel.Input{Kind: panel.Tick}))
	}
	w.now = max(w.now, to)
}

// Do lets time pass up to an instant, and then something reach a controller. An instant that is past is now.
func (w *World) Do(at hours.Instant, controller site.ID, in panel.Input) error {
	i, ok := w.place[controller]
	if !ok {
		return fmt.Errorf("controller %d is not in this world", controller)
	}
	w.Run(at)
	w.take(i, w.units[i].panel.Step(w.now, in))
	if in.Kind == panel.Network {
		w.units[i].cut = !in.On
		w.tell(i)
		if !in.On {
			w.follow(w.reacts.Lost(w.book, controller, w.now))
			return nil
		}
		w.follow(w.reacts.Back(w.book, controller))
		kept := w.units[i].kept
		w.units[i].kept = nil
		for k := range kept {
			w.follow(w.heard(controller, &kept[k]))
		}
	}
	return nil
}

// Order lets time pass up to an instant, and then somebody order a hold, a lockdown or a fire release at doors of any
// controllers, none listed: all. The relay passes it on; a controller that is cut off goes on with what it knows, and
// is told in the order of the orders when it is back. Being told twice is the same as once.
func (w *World) Order(at hours.Instant, in panel.Input) error {
	if in.Kind != panel.Hold && in.Kind != panel.Lockdown && in.Kind != panel.Fire && in.Kind != panel.Release &&
		in.Kind != panel.Cleared && in.Kind != panel.Confirm && in.Kind != panel.Arm {
		return fmt.Errorf("input %d is not an order to doors", in.Kind)
	}
	w.Run(at)
	w.relay = append(w.relay, in)
	for i := range w.units {
		w.tell(i)
	}
	return nil
}

// tell passes on what a controller has not been told yet, unless it is cut off.
func (w *World) tell(i int) {
	u := &w.units[i]
	for ; !u.cut && u.cursor < len(w.relay); u.cursor++ {
		w.take(i, u.panel.Step(w.now, w.relay[u.cursor]))
	}
}

// AlarmAreas returns what a controller says of its alarm areas, or nil where it is not in this world.
func (w *World) AlarmAreas(controller site.ID) []alarmarea.Now {
	if i, ok := w.place[controller]; ok {
		return w.units[i].panel.AlarmAreas()
	}
	return nil
}

// Doors returns what a controller says of its doors, or nil where it is not in this world.
func (w *World) Doors(controller site.ID) []panel.DoorState {
	if i, ok := w.place[controller]; ok {
		return w.units[i].panel.Doors()
	}
	return nil
}

// next returns the unit with the earliest wake, the first of equal ones; −1 where nothing falls due any more.
func (w *World) next() int {
	best := -1
	for i := range w.units {
		if w.units[i].wake < hours.Never && (best < 0 || w.units[i].wake < w.units[best].wake) {
			best = i
		}
	}
	return best
}

func (w *World) take(i int, r panel.Result) {
	w.units[i].wake = r.Wake
	var moved []pass.Whereabouts
	var cleared []pass.Clearance
	var orders []panel.Input
	var deeds []Deed
	for k := range r.Events {
		e := &r.Events[k]
		if e.Kind == pass.PlaceIs {
			moved = append(moved, pass.Whereabouts{
				Person: e.Person, Area: e.Area, At: e.At, Controller: w.units[i].id, Seq: e.Pass,
			})
			w.people.Put(moved[len(moved)-1])
		}
		if w.units[i].cut {
			w.keep(i, e)
		} else {
			deeds = append(deeds, w.heard(w.units[i].id, e)...)
		}
		if e.Kind == pass.WasCleared {
			cleared = append(cleared, pass.Clearance{
				Person: e.Person, Screening: e.Rule, Until: e.Next.OrNever(), At: e.At, Controller: w.units[i].id, Seq: e.Pass,
			})
		}
		if in, ok := w.book.PassedOn(e); ok && (len(orders) == 0 || orders[len(orders)-1].Rule != in.Rule ||
			orders[len(orders)-1].On != in.On) {
			orders = append(orders, in) // each of its doors tells of it
		}
		w.told(w.units[i].id, e)
	}
	if len(moved) > 0 {
		orders = append(orders, panel.Input{Kind: panel.Whereabouts, Places: moved})
	}
	if len(cleared) > 0 {
		orders = append(orders, panel.Input{Kind: panel.Cleared, Clearances: cleared})
	}
	if len(orders) > 0 {
		w.relay = append(w.relay, orders...)
		for k := range w.units {
			w.tell(k)
		}
	}
	w.follow(deeds)
}

// keep keeps an event of a controller that is cut off until it is back.
func (w *World) keep(i int, e *pass.Fact) {
	if len(w.book.Config.Reactions) > 0 {
		w.units[i].kept = append(w.units[i].kept, *e)
	}
}

// heard is what follows elsewhere from an event, which is told's to read until it returns.
func (w *World) heard(controller site.ID, e *pass.Fact) []Deed {
	if len(w.book.Config.Reactions) == 0 {
		return nil
	}
	f := *e
	out := w.reacts.Hear(w.book, controller, &f, f.At, w.now)
	if f.Kind == pass.PlaceIs && !Late(f.At, w.now) {
		out = append(out, w.reacts.Moved(w.book, controller, w.people.Inside, w.now)...)
	}
	return out
}

// follow gives the orders of reactions to the controllers that they are for. One that is cut off is told later only of
// what lasts until something has ended; the rest is for now.
func (w *World) follow(deeds []Deed) {
	for i := range deeds {
		for _, o := range deeds[i].Orders {
			if k, ok := w.place[o.Controller]; ok && !w.units[k].cut {
				w.reacts.Told(&o)
				w.take(k, w.units[k].panel.Step(w.now, o.Input))
			}
		}
	}
}
