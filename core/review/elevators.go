package review

import (
	"fmt"
	"regexp"
	"strings"

	"amberkeystone/core/site"
)

// carName is what people call an elevator.
var carName = regexp.MustCompile(`(?i)\b(elevator|lift)\b`)

// car looks at what an elevator is built of.
func (b *bench) car(d *site.Door) {
	at := func(code string, s Severity, words, mend string) { b.add(code, s, "door", d.ID, d.Name, words, mend) }
	if d.Car == nil {
		if carName.MatchString(d.Name) && d.Contact == site.NotFitted && d.Exit == site.NotFitted {
			at("car-as-door", Risky, d.Name+" is built as a door: its reader unlocks a lock and releases no floor.",
				"Make it an elevator in Build, Doors, New elevator, and remove this one; or give it another name.")
		}
		return
	}
	if !d.In.Fitted && !d.Out.Fitted {
		at("car-no-reader", Risky, d.Name+" has no reader: nobody's card releases a floor, only schedules and operators do.",
			"Fit a reader in the car, in its build.")
	}
	used := map[int]bool{}
	for _, s := range d.Car.Stops {
		relay, ok := d.Car.Relay(s.Relay)
		if !ok {
			at("floor-no-relay", Wrong, fmt.Sprintf("%s of %s has no output: there is no expander for relay %d.",
				b.floor(s.FloorID), d.Name, s.Relay),
				"Add an expander with 16 outputs to it, in its build.")
		}
		used[int(relay.Board)] = true
	}
	for _, board := range d.Car.Boards {
		if !used[board] {
			at("relay-no-floor", Untidy, fmt.Sprintf("No floor is on expander %d of %s: its 16 outputs do nothing.", board,
				d.Name),
				"Take it off the elevator, or add the floors that it is for.")
		}
	}
}

func (b *bench) floor(id site.ID) string {
	for i := range b.c.Floors {
		if b.c.Floors[i].ID == id {
			return b.c.Floors[i].Name
		}
	}
	return "A floor"
}

// elevators looks at levels with elevator floors, and at floors that nobody reaches.
func (r *roll) elevators() {
	cars := r.c.Cars()
	for i := range r.c.Levels {
		l := &r.c.Levels[i]
		for k := range l.Entries {
			if e := &l.Entries[k]; e.Target.Kind == site.AtStops && e.Ride != nil {
				r.ride(l, e, cars)
			}
		}
	}
	for _, d := range cars {
		if !d.OutOfUse {
			r.unreached(d)
		}
	}
}

func (r *roll) ride(l *site.Level, e *site.Entry, cars []*site.Door) {
	note := func(code string, s Severity, words, mend string) {
		r.note(code, s, "level", l.ID, l.Name, words, mend)
	}
	floors, chosen := e.Ride.AllFloors || len(e.Ride.FloorIDs) > 0, e.Ride.AllCars || len(e.Ride.CarIDs) > 0
	if floors && !chosen {
		note("floors-no-car", Risky, l.Name+" has elevator floors and no elevator: nobody rides there by it.",
			"Choose the elevators that go there, or take the floors out.")
		return
	}
	var dead, freight []string
	one := site.Level{Entries: []site.Entry{*e}}
	for _, x := range r.places.Entries(&one) {
		d := r.c.Door(x.DoorID)
		if x.Stops == (site.StopSet{}) {
			dead = append(dead, d.Name)
		} else if d.Car.Freight && e.Ride.AllCars {
			freight = append(freight, d.Name)
		}
	}
	if len(dead) > 0 && (len(e.Ride.CarIDs) > 0 || len(dead) == len(cars)) {
		words := fmt.Sprintf("%s comes to %s and to none of its floors", l.Name, both(dead))
		if len(dead) > 1 {
			words = fmt.Sprintf("%s comes to %s and to none of their floors", l.Name, both(dead))
		}
		if n := r.holders[l.ID]; n > 0 {
			words += fmt.Sprintf(": %s a card that releases nothing there", holdWords(n))
		}
		note("car-no-floor", Risky, words+".", "Choose a floor at which it stops, or take the elevator out.")
	}
	if len(freight) > 0 {
		note("freight-in-all", Risky, fmt.Sprintf("%s is for all elevators, %s among them, which carries goods.", l.Name,
			both(freight)), "Leave it out of that place, or choose the elevators one by one.")
	}
}

func holdWords(n int) string {
	if n == 1 {
		return "1 person holds"
	}
	return fmt.Sprintf("%d people hold", n)
}

func both(names []string) string {
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1]
}

// unreached finds floors of a car that no card releases and that are never free.
func (r *roll) unreached(d *site.Door) {
	var reached site.StopSet
	for id, entries := range r.doors {
		if r.holders[id] == 0 {
			continue
		}
		for i := range entries {
			if entries[i].DoorID == d.ID {
				reached.Join(&entries[i].Stops)
			}
		}
	}
	var names []string
	for i, s := range d.Car.Stops {
		if !reached.Has(i) && s.FreeID == 0 {
			names = append(names, r.floorName(s.FloorID))
		}
	}
	switch {
	case len(names) == 0:
	case len(names) == len(d.Car.Stops):
		r.note("floor-unreached", Risky, "door", d.ID, d.Name, "Nobody's card releases any floor of "+d.Name+".",
			"Give a level floors by it.")
	default:
		r.note("floor-unreached", Untidy, "door", d.ID, d.Name,
			fmt.Sprintf("Nobody's card releases %s by %s.", few(names), d.Name),
			"Give a level that floor, or take it out of the car.")
	}
}

func (r *roll) floorName(id site.ID) string {
	for i := range r.c.Floors {
		if r.c.Floors[i].ID == id {
			return r.c.Floors[i].Name
		}
	}
	return "a floor"
}
