package prove

import (
	"fmt"

	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/site"
)

// World is controllers at work in simulated time: each runs the panel that a real one runs, on the image that it would
// hold. Time passes only when it is asked to, from one thing that falls due to the next, so a year takes as long as
// there is to do in it. The same book, instants and inputs give the same events, to the byte.
type World struct {
	now   hours.Instant
	units []worldUnit
	place map[site.ID]int // of each controller in units
	told  func(controller site.ID, e *panel.Event)
}

type worldUnit struct {
	id    site.ID
	panel *panel.Panel
	wake  hours.Instant
}

// NewWorld starts controllers of a book at an instant, none listed: all. Told hears every event in the order in which
// it happens; of equal instants the controller that comes first in the configuration is first. The event is told's
// to read until it returns.
func NewWorld(
	b *Book,
	at hours.Instant,
	secrets image.Secrets,
	told func(controller site.ID, e *panel.Event),
	controllers ...site.ID,
) *World {
	w := &World{now: at, place: map[site.ID]int{}, told: told}
	chosen := map[site.ID]bool{}
	for _, id := range controllers {
		chosen[id] = true
	}
	for i := range b.Config.Controllers {
		id := b.Config.Controllers[i].ID
		if len(chosen) > 0 && !chosen[id] {
			continue
		}
		c := image.Build(b.Config, id, *b.ControllerClock(id), secrets).Compile()
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
	for k := range r.Events {
		w.told(w.units[i].id, &r.Events[k])
	}
}
