package prove

import (
	"fmt"
	"strings"

	"amberkeystone/core/access"
	"amberkeystone/core/elevator"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// FloorNow is a floor of a car as it is at a moment, with its relay.
type FloorNow struct {
	FloorID  site.ID       `json:"floorId"`
	Name     string        `json:"name"`
	Level    int           `json:"level" doc:"Its order in the building, 0 at street level"`
	Relay    int           `json:"relay" doc:"Counted from 1 over all expanders of the car"`
	At       string        `json:"at" doc:"The terminal of its relay, such as 2/o1; empty: there is no expander for it"`
	Why      elevator.Why  `json:"why" enum:"escape,free,schedule,card,offered,held"`
	Until    hours.Instant `json:"until" doc:"Of card and schedule: until when, Unix milliseconds; 0: not known, or never"`
	Words    string        `json:"words" doc:"What it does now, and until when"`
	FreeID   site.ID       `json:"freeId" doc:"The schedule during which it is free; 0: none"`
	Schedule string        `json:"schedule" doc:"Its name"`
}

// Floors tells what every floor of an elevator does at an instant, the lowest first; nil of a door. Live is what its
// controller says of them, or nil where it says nothing or the instant is not now.
func (b *Book) Floors(door site.ID, at hours.Instant, live []elevator.Floor) []FloorNow {
	d := b.doors[door]
	if d == nil || d.Car == nil {
		return nil
	}
	if len(live) != len(d.Car.Stops) {
		live = b.floorsBy(d, at)
	}
	out := make([]FloorNow, 0, len(d.Car.Stops))
	for i, s := range d.Car.Stops {
		x := FloorNow{FloorID: s.FloorID, Name: b.Name(s.FloorID), Level: b.LevelAt(s.FloorID), Relay: s.Relay,
			Why: live[i].Why, Until: live[i].Until, FreeID: s.FreeID}
		if t, ok := d.Car.Relay(s.Relay); ok {
			x.At = t.String()
		}
		if s.FreeID != 0 {
			x.Schedule = b.Name(s.FreeID)
		}
		x.Words = b.floorWords(d, at, &live[i])
		out = append(out, x)
	}
	return out
}

// floorsBy is what the floors do by plan and schedules alone.
func (b *Book) floorsBy(d *site.Door, at hours.Instant) []elevator.Floor {
	place := b.core(d.ControllerID).Place(b.placeAt(d))
	place.Car.Follow(&pass.Fact{At: at, Kind: pass.ModeNow, Mode: b.ModeAt(d.ID, at)}, new(pass.Effects))
	return place.Car.Floors(at)
}

// LevelAt is the place of a floor in the order of its building.
func (b *Book) LevelAt(floor site.ID) int {
	for _, f := range b.Config.Floors {
		if f.ID == floor {
			return f.Level
		}
	}
	return 0
}

func (b *Book) floorWords(d *site.Door, at hours.Instant, f *elevator.Floor) string {
	z := b.Zone(d.ID)
	switch f.Why {
	case elevator.ForEscape:
		return "released: fire"
	case elevator.AllFree:
		return "free"
	case elevator.BySchedule:
		if f.Until == 0 {
			return "free at all hours"
		}
		return "free until " + shortStamp(z, at, f.Until)
	case elevator.ByCard:
		return "released"
	case elevator.Offered:
		return "may be pressed"
	}
	return "held"
}

// carSentence says what an elevator does now: which floors are free by their own schedules, then what the car asks.
func (b *Book) carSentence(d *site.Door, n *Now, at hours.Instant) string {
	s := strings.NewReplacer("The door is", "The elevator is", "nobody comes in, whatever they hold",
		"no card releases a floor").Replace(n.Sentence)
	if n.Mode == hours.Free {
		if d.Car.Fire == site.FireDrops && len(n.Layers) > 0 && n.Layers[0].Name == above[hours.FireRelease].name &&
			n.Layers[0].Decides {
			return "**Fire**: every floor relay has dropped, and the elevator's own service decides where it goes, **until it is ended**."
		}
		return strings.Replace(s, "The elevator is **free**", "Every floor is **free**", 1)
	}
	if n.Mode == hours.Barred {
		return s
	}
	by, order := map[hours.Instant][]string{}, []hours.Instant{}
	for _, f := range b.floorsBy(d, at) {
		if f.Why != elevator.BySchedule {
			continue
		}
		if len(by[f.Until]) == 0 {
			order = append(order, f.Until)
		}
		by[f.Until] = append(by[f.Until], "**"+b.Name(f.FloorID)+"**")
	}
	var free []string
	all := 0
	for _, until := range order {
		verb := "is"
		if len(by[until]) > 1 {
			verb = "are"
		}
		all += len(by[until])
		words := both(by[until]) + " " + verb + " **free** at all hours"
		if until != 0 {
			words = both(by[until]) + " " + verb + " **free** until **" + shortStamp(b.Zone(d.ID), at, until) + "**"
		}
		free = append(free, words)
	}
	switch {
	case len(free) == 0:
		return s
	case all == len(d.Car.Stops):
		return strings.Join(free, "; ") + "."
	}
	return strings.Join(free, "; ") + ". For the other floors: " + strings.ToLower(s[:1]) + s[1:]
}

// FloorAnswer is whether somebody reaches one floor of an elevator, and why not.
type FloorAnswer struct {
	FloorID site.ID       `json:"floorId"`
	Floor   string        `json:"floor"`
	Reached bool          `json:"reached"`
	Reason  pass.Reason   `json:"reason"`
	Words   string        `json:"words"`
	Next    hours.Instant `json:"-"`
}

// floorAnswers tells of every floor whether a pass reaches it, the lowest first.
func (b *Book) floorAnswers(c *image.Compiled, d *site.Door, x *pass.Pass) []FloorAnswer {
	free := b.floorsBy(d, x.At)
	out := make([]FloorAnswer, 0, len(d.Car.Stops))
	for i, s := range d.Car.Stops {
		a := FloorAnswer{FloorID: s.FloorID, Floor: b.Name(s.FloorID)}
		switch {
		case free[i].Why == elevator.AllFree, free[i].Why == elevator.BySchedule:
			a.Reached, a.Reason, a.Words = true, pass.GrantedFree, b.floorWords(d, x.At, &free[i])+"; no card is needed"
		case !x.Known:
			a.Reason, a.Words = x.Reason, x.Reason.Words()
		default:
			by := c.Floor(x, i)
			a.Reason, a.Next = by.Reason, by.Next
			a.Reached = by.Reason == pass.Granted && x.Reason.Granted()
			if by.Reason == pass.Granted && !a.Reached {
				a.Reason = x.Reason
			}
			a.Words = b.floorReason(d, x, &by)
		}
		out = append(out, a)
	}
	return out
}

func (b *Book) floorReason(d *site.Door, x *pass.Pass, by *access.FloorAnswer) string {
	z := b.Zone(d.ID)
	switch by.Reason {
	case pass.Granted:
		words := b.LevelWords(by.Level) + ", during " + b.Name(by.Schedule)
		if !x.Reason.Granted() {
			words += "; but " + x.Reason.Words()
		}
		return words
	case pass.OutsideHours:
		words := b.LevelWords(by.Level) + " comes here, and " + b.Name(by.Schedule) + " is closed"
		if by.Next < hours.Never {
			words += "; again " + shortStamp(z, x.At, by.Next)
		}
		return words
	case pass.LevelDates:
		return b.LevelWords(by.Level) + " comes here, and is not in force on this day"
	case pass.SegmentLimit:
		return b.LevelWords(by.Level) + " comes here, and does not count at this hour"
	}
	return "nothing that they hold comes to this floor"
}

// floorList names floors in the order in which they are given.
func (b *Book) floorList(floors []site.ID) string {
	var names []string
	for _, f := range floors {
		names = append(names, b.Name(f))
	}
	if len(names) > 6 {
		return fmt.Sprintf("%d floors, %s to %s", len(names), names[0], names[len(names)-1])
	}
	return both(names)
}

// stopsWords names some stops of an elevator.
func (b *Book) stopsWords(c *site.Car, stops *site.StopSet) string {
	switch list := c.Floors(stops); len(list) {
	case 0:
		return "no floor"
	case len(c.Stops):
		return "all floors"
	default:
		return b.floorList(list)
	}
}

// RideWords says which floors by which elevators an entry of a level means.
func (b *Book) RideWords(r *site.Ride) string {
	if r == nil {
		return "elevator floors"
	}
	floors, cars := b.floorList(r.FloorIDs), b.floorList(r.CarIDs)
	switch {
	case r.AllFloors:
		floors = "all floors, later ones too"
	case len(r.FloorIDs) == 0:
		floors = "no floor"
	}
	switch {
	case r.AllCars:
		cars = "all elevators, later ones too"
	case len(r.CarIDs) == 0:
		cars = "no elevator"
	}
	return floors + " by " + cars
}

// PlaceWords names the place of an entry of a level.
func (b *Book) PlaceWords(e *site.Entry) string {
	if e.Target.Kind == site.AtStops {
		return b.RideWords(e.Ride)
	}
	return b.TargetWords(e.Target)
}

// LouderWords says what a louder log of an elevator costs, with how many events its controller keeps.
func (b *Book) LouderWords(door site.ID) string {
	d := b.doors[door]
	if d == nil || d.Car == nil {
		return ""
	}
	n := len(d.Car.Stops)
	words := fmt.Sprintf("%s: up to %d relay events a card", count(n, "floor", "floors"), 2*n)
	if x := b.Config.Controller(d.ControllerID); x != nil && x.Events() > 0 {
		words += fmt.Sprintf("; a log of %s events is full after %s cards", thousands(x.Events()),
			thousands(x.Events()/(2*n+1)))
	}
	return words + "."
}

// thousands writes a number with commas.
func thousands(n int) string {
	s := fmt.Sprint(n)
	for i := len(s) - 3; i > 0; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return s
}
