// Package elevator is one car: which of its floors are released, why, and until when (design 3.12). Car is a part of
// its controller, and claims the relays of its floors.
//
// Without buttons wired back a grant releases all floors that it may; somebody presses one within the select time, and
// nothing tells which. With them a grant makes a rider, who presses one: only that floor's relay is driven, and the log
// says who went where.
package elevator

import (
	"encoding/json"
	"fmt"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// Why is for what reason a floor is released, or that it is not. The zero value is held.
type Why string

// The reasons, the highest first.
const (
	ForEscape  Why = "escape"   // a fire release, where floors are released in one
	AllFree    Why = "free"     // the car asks nothing of anybody
	BySchedule Why = "schedule" // the floor's own schedule is open
	ByCard     Why = "card"     // a card, or an operator, for the select time
	Offered    Why = "offered"  // somebody may press its button now; its relay is off until then
	Held       Why = "held"
)

// On reports whether the relay of such a floor is on.
func (w Why) On() bool { return w != Held && w != Offered }

// Floor is a stop as it is now.
type Floor struct {
	FloorID site.ID       `json:"floorId"`
	Why     Why           `json:"why" enum:"escape,free,schedule,card,offered,held"`
	Until   hours.Instant `json:"until,omitempty"` // of card, offered and schedule; 0: not known, or never
}

// Car is the state of one car. One whose door has no floors does nothing.
type Car struct {
	Config *site.Door
	Free   []*hours.Schedule // of each stop; nil: none
	Local  hours.Local

	asks   hours.Mode
	fire   bool
	until  []hours.Instant // each stop is released by a card or by hand until then; 0: it is not
	riders []rider         // who may press a button now, the earliest first
	memory

	open   site.StopSet // stops whose schedule is open
	change hours.Instant
	told   site.StopSet // of the louder log: the relays that are on
}

// memory is what survives a restart.
type memory struct {
	Loud hours.Instant `json:"loud"` // relays are events until then; 0: they are not
}

// rider is somebody who was granted and has not pressed a button yet.
type rider struct {
	number uint64
	person site.ID
	stops  site.StopSet
	until  hours.Instant
	length time.Duration
}

func (c *Car) there() bool { return c.Config != nil && c.Config.Car != nil }

// Follow takes note of what happens at the car.
func (c *Car) Follow(f *pass.Fact, do *pass.Effects) {
	if !c.there() {
		return
	}
	if len(c.until) != len(c.Config.Car.Stops) {
		c.until = make([]hours.Instant, len(c.Config.Car.Stops))
	}
	c.expire(f.At, do)
	switch f.Kind {
	case pass.WasGranted:
		c.grant(f)
	case pass.ModeNow:
		c.asks, c.fire = f.Mode, f.Layer == hours.FireRelease
	case pass.ReleaseAsked:
		c.byHand(f, do)
	case pass.ButtonIs:
		if f.Active {
			c.press(f, do)
		}
	case pass.LoudAsked:
		c.loud(f, do)
	case pass.Started, pass.ImageLoaded, pass.ClockSet:
		c.change = 0
	}
	c.look(f.At)
	c.tell(f.At, do)
}

// grant releases the floors of a pass, or waits for its button.
func (c *Car) grant(f *pass.Fact) {
	if f.Attempt == nil {
		return
	}
	length := c.length(f.Attempt.Extended)
	until := f.At.Add(length)
	if c.Config.Car.Wired() {
		number := f.Pass
		if number == 0 {
			number = f.Seq
		}
		c.riders = append(c.riders, rider{number, f.Person, f.Attempt.Stops, until, length})
		return
	}
	c.release(&f.Attempt.Stops, until)
}

func (c *Car) length(extended bool) time.Duration {
	if extended {
		return time.Duration(c.Config.Extended) * time.Second
	}
	return time.Duration(c.Config.Unlock) * time.Second
}

// release never shortens a release.
func (c *Car) release(stops *site.StopSet, until hours.Instant) {
	for i := range c.until {
		if stops.Has(i) {
			c.until[i] = max(c.until[i], until)
		}
	}
}

// byHand releases floors for an operator; none listed: all.
func (c *Car) byHand(f *pass.Fact, do *pass.Effects) {
	car := c.Config.Car
	stops := car.All()
	if len(f.Floors) > 0 {
		stops = site.StopSet{}
		for _, id := range f.Floors {
			if i := car.StopAt(id); i >= 0 {
				stops.Add(i)
			}
		}
	}
	if stops == (site.StopSet{}) {
		return
	}
	c.release(&stops, f.At.Add(c.length(false)))
	do.Tell(pass.Fact{At: f.At, Kind: pass.ReleasedOnce, Note: f.Note, Floors: car.Floors(&stops)})
}

// press is a floor button: the earliest rider who may goes there; where a floor is free, whoever presented a card does.
// In a fire release nobody chooses: the elevator's own service does.
func (c *Car) press(f *pass.Fact, do *pass.Effects) {
	if c.fire || f.Stop >= len(c.Config.Car.Stops) || len(c.riders) == 0 {
		return
	}
	floor := c.Config.Car.Stops[f.Stop].FloorID
	free := c.asks == hours.Free || c.open.Has(f.Stop) && c.asks != hours.Barred
	for k, r := range c.riders {
		if !r.stops.Has(f.Stop) && !free {
			continue
		}
		c.riders = append(c.riders[:k:k], c.riders[k+1:]...)
		c.until[f.Stop] = max(c.until[f.Stop], f.At.Add(r.length))
		do.Tell(pass.Fact{At: f.At, Kind: pass.FloorChosen, Pass: r.number, Person: r.person, Floors: []site.ID{floor}})
		return
	}
	do.Tell(pass.Fact{
		At: f.At, Kind: pass.FloorRefused, Reason: pass.FloorNotAllowed, Person: c.riders[0].person, Floors: []site.ID{floor},
	})
}

func (c *Car) loud(f *pass.Fact, do *pass.Effects) {
	c.told = c.on()
	kind := pass.LoudBegan
	switch {
	case f.Active:
		c.Loud = f.Next
	case c.Loud == 0:
		return
	default:
		c.Loud, kind = 0, pass.LoudEnded
	}
	do.Tell(pass.Fact{At: f.At, Kind: kind, Next: c.Loud, Note: f.Note})
}

// expire ends what is over.
func (c *Car) expire(now hours.Instant, do *pass.Effects) {
	for i, t := range c.until {
		if t != 0 && t <= now {
			c.until[i] = 0
		}
	}
	for k := 0; k < len(c.riders); k++ { // those who need longer may stand before others
		if c.riders[k].until <= now {
			c.untaken(now, k, do)
			k--
		}
	}
	if c.Loud != 0 && c.Loud <= now {
		c.tell(now, do)
		c.Loud = 0
		do.Tell(pass.Fact{At: now, Kind: pass.LoudEnded})
	}
}

func (c *Car) untaken(now hours.Instant, k int, do *pass.Effects) {
	r := c.riders[k]
	c.riders = append(c.riders[:k:k], c.riders[k+1:]...)
	do.Tell(pass.Fact{At: now, Kind: pass.NotTaken, Pass: r.number, Person: r.person})
}

// look sees which floors are free by their schedules, and when that changes.
func (c *Car) look(now hours.Instant) {
	if c.change > now {
		return
	}
	c.open, c.change = site.StopSet{}, hours.Never
	for i, s := range c.Free {
		if s == nil || i >= site.MostStops {
			continue
		}
		if s.OpenAt(c.Local, now) {
			c.open.Add(i)
		}
		c.change = min(c.change, s.Next(c.Local, now))
	}
	c.change = max(c.change, now+1)
}

// tell makes relays events, while the log is louder.
func (c *Car) tell(now hours.Instant, do *pass.Effects) {
	on := c.on()
	if c.Loud == 0 || on == c.told {
		return
	}
	car := c.Config.Car
	for i := range car.Stops {
		if on.Has(i) == c.told.Has(i) {
			continue
		}
		kind := pass.FloorHeld
		if on.Has(i) {
			kind = pass.FloorReleased
		}
		at, _ := car.Relay(car.Stops[i].Relay)
		do.Tell(pass.Fact{At: now, Kind: kind, Floors: []site.ID{car.Stops[i].FloorID}, Point: at.String()})
	}
	c.told = on
}

// why returns for what reason stop i is released.
func (c *Car) why(i int) Why {
	switch {
	case c.fire && c.Config.Car.Fire == site.FireReleases:
		return ForEscape
	case c.fire:
		return Held
	case c.asks == hours.Free:
		return AllFree
	case c.open.Has(i) && c.asks != hours.Barred:
		return BySchedule
	case i < len(c.until) && c.until[i] != 0:
		return ByCard
	case c.offered(i) != 0:
		return Offered
	}
	return Held
}

// offered returns until when somebody may press the button of stop i; 0: nobody may.
func (c *Car) offered(i int) (until hours.Instant) {
	for _, r := range c.riders {
		if r.stops.Has(i) {
			until = max(until, r.until)
		}
	}
	return until
}

// on lists the stops whose relays are on.
func (c *Car) on() (s site.StopSet) {
	for i := range min(len(c.Config.Car.Stops), site.MostStops) {
		if c.why(i).On() {
			s.Add(i)
		}
	}
	return s
}

// Floors tells what every floor does at an instant, the lowest first; nil of a door.
func (c *Car) Floors(now hours.Instant) []Floor {
	if !c.there() {
		return nil
	}
	out := make([]Floor, 0, len(c.Config.Car.Stops))
	for i, s := range c.Config.Car.Stops {
		f := Floor{FloorID: s.FloorID, Why: c.why(i)}
		switch {
		case f.Why == ByCard:
			f.Until = c.until[i]
		case f.Why == Offered:
			f.Until = c.offered(i)
		case f.Why == BySchedule && i < len(c.Free) && c.Free[i] != nil:
			f.Until = c.Free[i].Next(c.Local, now)
			if f.Until == hours.Never {
				f.Until = 0
			}
		}
		out = append(out, f)
	}
	return out
}

// Claim wants the relays of released floors on.
func (c *Car) Claim(say func(out point.Address, rank point.Rank, on bool)) {
	if !c.there() || c.Config.OutOfUse {
		return
	}
	for i, s := range c.Config.Car.Stops {
		if at, ok := c.Config.Car.Relay(s.Relay); ok {
			say(at, point.Door, c.why(i).On())
		}
	}
}

// Wake returns when something ends, or a floor's schedule changes.
func (c *Car) Wake() hours.Instant {
	if !c.there() {
		return hours.Never
	}
	w := hours.Never
	if c.change != 0 {
		w = c.change
	}
	for _, t := range c.until {
		if t != 0 {
			w = min(w, t)
		}
	}
	for _, r := range c.riders {
		w = min(w, r.until)
	}
	if c.Loud != 0 {
		w = min(w, c.Loud)
	}
	return w
}

// Shift moves what is under way along with the clock; schedules are looked at anew.
func (c *Car) Shift(by time.Duration) {
	for i, t := range c.until {
		if t != 0 {
			c.until[i] = t.Add(by)
		}
	}
	for k := range c.riders {
		c.riders[k].until = c.riders[k].until.Add(by)
	}
	if c.Loud != 0 {
		c.Loud = c.Loud.Add(by)
	}
	if c.change != 0 && c.change != hours.Never {
		c.change = c.change.Add(by)
	}
}

// Save remembers until when the log is louder.
func (c *Car) Save() ([]byte, error) {
	if c.Loud == 0 {
		return nil, nil
	}
	return json.Marshal(c.memory)
}

// Restore takes it back.
func (c *Car) Restore(b []byte) error {
	if err := json.Unmarshal(b, &c.memory); err != nil {
		return fmt.Errorf("car: %w", err)
	}
	return nil
}

// Take goes on: floors that it still has stay released for what is left.
func (c *Car) Take(now hours.Instant, was pass.Part, do *pass.Effects) {
	old := was.(*Car)
	if !c.there() || !old.there() {
		old.Retire(now, do)
		return
	}
	c.asks, c.fire, c.memory = old.asks, old.fire, old.memory
	c.until = make([]hours.Instant, len(c.Config.Car.Stops))
	move := func(i int) int { return c.Config.Car.StopAt(old.Config.Car.Stops[i].FloorID) }
	for i, t := range old.until {
		if k := move(i); k >= 0 {
			c.until[k] = t
		}
	}
	for _, r := range old.riders {
		next := r
		next.stops = site.StopSet{}
		for i := range old.Config.Car.Stops {
			if k := move(i); r.stops.Has(i) && k >= 0 {
				next.stops.Add(k)
			}
		}
		c.riders = append(c.riders, next)
	}
	if !c.Config.Car.Wired() {
		for len(c.riders) > 0 {
			c.untaken(now, 0, do)
		}
	}
	c.look(now)
	c.told = c.on()
}

// Retire ends what is under way: nobody rides any more, and every floor is held.
func (c *Car) Retire(now hours.Instant, do *pass.Effects) {
	for len(c.riders) > 0 {
		c.untaken(now, 0, do)
	}
	c.until, c.memory, c.open, c.change, c.asks, c.fire = nil, memory{}, site.StopSet{}, 0, 0, false
}
