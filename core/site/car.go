package site

import (
	"cmp"
	"fmt"
	"slices"

	"amberkeystone/core/point"
)

// The limits of a car (common practice): expanders of 16 relays, up to 8 of them.
const (
	RelaysOfBoard = 16
	MostBoards    = 8
	MostStops     = RelaysOfBoard * MostBoards
)

// CarFire is what floor relays do in a fire release.
type CarFire string

// What they do. Either way the elevator's own service decides where the car goes.
const (
	FireDrops    CarFire = "drop"    // every relay drops: cards release nothing
	FireReleases CarFire = "release" // every floor is released
)

// Car makes a door an elevator's car: its readers are in it, and a grant releases floors instead of a lock (design
// 3.12). The unlock time is the select time.
type Car struct {
	// Stops are the floors that it serves, the lowest first.
	Stops []Stop `json:"stops" doc:"The floors that it serves, the lowest first"`
	// Boards are the expanders that its relays are on: relay 17 is the first of the second.
	Boards []int `json:"boards" doc:"Addresses of the expanders with its floor relays, 16 each, in the order of the relays"`
	// Buttons are the expanders to which its floor buttons are wired back, in the same order as the relays.
	Buttons []int   `json:"buttons,omitempty" doc:"Addresses of the expanders that its floor buttons are wired back to; none: they are not"`
	Fire    CarFire `json:"fire" enum:"drop,release" doc:"What its floor relays do in a fire release"`
	Freight bool    `json:"freight,omitempty" doc:"It carries goods: a level for all elevators should leave it out"`
}

// Stop is a floor that a car serves.
type Stop struct {
	FloorID ID  `json:"floorId"`
	Relay   int `json:"relay" doc:"Counted from 1 over all its expanders"`
	FreeID  ID  `json:"freeId,omitempty" doc:"The schedule during which nobody needs a card for it; 0: none"`
}

// StopSet is floors of one car, by their place among its stops. It compares with ==; the zero value is none.
type StopSet [MostStops / 64]uint64

// Has reports whether stop i is in it.
func (s *StopSet) Has(i int) bool { return i >= 0 && i < MostStops && s[i/64]>>(i%64)&1 != 0 }

// Add puts stop i into it.
func (s *StopSet) Add(i int) { s[i/64] |= 1 << (i % 64) }

// Join puts all of another into it.
func (s *StopSet) Join(o *StopSet) {
	for k := range s {
		s[k] |= o[k]
	}
}

// List returns the places of its stops, the lowest first.
func (s *StopSet) List() (out []int) {
	for i := range MostStops {
		if s.Has(i) {
			out = append(out, i)
		}
	}
	return out
}

// Relay returns where a relay of a car is: its expander's address, and its number there. Ok is false where the car has
// no expander for it.
func (c *Car) Relay(n int) (at point.Address, ok bool) { return onBoards(c.Boards, n, point.Output) }

// Button returns where the button is wired of the floor with a relay.
func (c *Car) Button(relay int) (at point.Address, ok bool) {
	return onBoards(c.Buttons, relay, point.Input)
}

func onBoards(boards []int, n int, kind point.Kind) (at point.Address, ok bool) {
	k := (n - 1) / RelaysOfBoard
	if n < 1 || k >= len(boards) {
		return at, false
	}
	return point.Address{Board: uint8(boards[k]), Kind: kind, Number: uint16((n-1)%RelaysOfBoard + 1)}, true
}

// RelayAt is the inverse of Relay: the number over all expanders of a terminal; 0 where it is none of the car's.
func (c *Car) RelayAt(at point.Address) int {
	k := slices.Index(c.Boards, int(at.Board))
	if k < 0 || at.Kind != point.Output || at.Number < 1 || at.Number > RelaysOfBoard {
		return 0
	}
	return k*RelaysOfBoard + int(at.Number)
}

// FireWords says what happens in a fire release.
func (c *Car) FireWords() string {
	if c.Fire == FireReleases {
		return "every floor is released; where the car goes the elevator's own service decides"
	}
	return "every floor relay drops and cards release nothing; the elevator's own service takes over"
}

// Wired reports whether the floor buttons are wired back, so that the controller knows which one is pressed.
func (c *Car) Wired() bool { return len(c.Buttons) > 0 }

// StopAt returns the place among the stops of a floor; −1 where the car does not stop there.
func (c *Car) StopAt(floor ID) int {
	return slices.IndexFunc(c.Stops, func(s Stop) bool { return s.FloorID == floor })
}

// Floors lists the floors of a set of stops.
func (c *Car) Floors(s *StopSet) []ID {
	var out []ID
	for i := range c.Stops {
		if s.Has(i) {
			out = append(out, c.Stops[i].FloorID)
		}
	}
	return out
}

// All is every stop.
func (c *Car) All() (s StopSet) {
	for i := range min(len(c.Stops), MostStops) {
		s.Add(i)
	}
	return s
}

// UsualCar is a car that serves floors, the lowest first, by relays 1, 2, 3 … upward, with as many of some expanders as
// that takes.
func UsualCar(floors []ID, boards []int) Car {
	c := Car{Fire: FireDrops, Boards: boards[:min(len(boards), (len(floors)+RelaysOfBoard-1)/RelaysOfBoard)]}
	for i, f := range floors {
		c.Stops = append(c.Stops, Stop{FloorID: f, Relay: i + 1})
	}
	return c
}

// UsualElevator is what a car has in place of a lock: a reader, and 5 s to press a button.
func UsualElevator() Hardware {
	h := UsualHardware()
	h.Contact, h.Exit, h.ExitReleases, h.Relock = NotFitted, NotFitted, false, AtEnd
	return h
}

// check says what is wrong with a car by itself.
func (c *Car) check(fs *Faults) {
	fs.add(len(c.Stops) < 2, "car.stops", "an elevator serves at least two floors")
	fs.add(len(c.Stops) > MostStops, "car.stops", "%d floors: %d expanders of %d relays are at most %d",
		len(c.Stops), MostBoards, RelaysOfBoard, MostStops)
	fs.add(!oneOf(c.Fire, FireDrops, FireReleases), "car.fire",
		"%q is nothing that floor relays do; write drop or release", c.Fire)
	fs.boards("car.boards", c.Boards)
	fs.boards("car.buttons", c.Buttons)
	fs.add(len(c.Boards)*RelaysOfBoard < len(c.Stops) && len(c.Stops) <= MostStops, "car.boards",
		"%d floors want %d expanders of %d relays; it has %d", len(c.Stops), (len(c.Stops)+RelaysOfBoard-1)/RelaysOfBoard,
		RelaysOfBoard, len(c.Boards))
	fs.add(c.Wired() && len(c.Buttons) < len(c.Boards), "car.buttons",
		"its buttons want as many expanders as its relays, %d", len(c.Boards))
	relays, floors := map[int]int{}, map[ID]bool{}
	for i, s := range c.Stops {
		at := fmt.Sprintf("car.stops[%d].", i)
		fs.add(s.FloorID == 0, at+"floorId", "choose the floor")
		fs.add(floors[s.FloorID] && s.FloorID != 0, at+"floorId", "the car stops once at each floor")
		floors[s.FloorID] = true
		if before, twice := relays[s.Relay]; twice {
			fs.add(true, at+"relay", "relay %d is that of stop %d already", s.Relay, before+1)
			continue
		}
		relays[s.Relay] = i
		fs.add(s.Relay < 1 || s.Relay > MostStops, at+"relay", "relay %d: they are counted from 1 to %d", s.Relay, MostStops)
	}
	for n := 1; n <= len(c.Stops) && len(relays) == len(c.Stops); n++ {
		if _, there := relays[n]; !there {
			fs.add(true, "car.stops", "relay %d is missing: they are counted from 1 to %d without a gap", n, len(c.Stops))
			break
		}
	}
}

func (fs *Faults) boards(path string, list []int) {
	fs.add(len(list) > MostBoards, path, "at most %d expanders", MostBoards)
	for i, b := range list {
		fs.add(slices.Contains(list[:i], b), path, "expander %d is listed twice", b)
		fs.add(b < 1 || b > MaxExpanderAddress, path, "%d is outside 1 to %d, the addresses of the bus", b,
			MaxExpanderAddress)
	}
}

// checkCar says what is wrong with a door as an elevator.
func (d *Door) checkCar(fs *Faults) {
	if d.Car == nil {
		return
	}
	d.Car.check(fs)
	fs.add(d.Contact != NotFitted, "contact", "a car has no door contact of ours; say none")
	fs.add(d.Exit != NotFitted, "exit", "a car has no exit request; say none")
	fs.add(d.OutsideAreaID != 0 || d.InsideAreaID != 0, "insideAreaId", "a car leads to floors, and to no area; say none")
	fs.add(d.Toggle != nil && !d.Toggle.Off, "toggle", "a car is not toggled by a card; take the toggle off")
}

// Schedules lists those that a door follows beside its plan: of the floors that are free by one.
func (d *Door) Schedules() (out []ID) {
	if d.Car == nil {
		return nil
	}
	for _, s := range d.Car.Stops {
		if s.FreeID != 0 && !slices.Contains(out, s.FreeID) {
			out = append(out, s.FreeID)
		}
	}
	return out
}

// A stop of a car is asked about as a door is, under a number of its own.
const (
	stopMark ID = 1 << 61
	stopCar     = 30 // the bits of the floor
)

// StopID is the number of a car's stop at a floor. Ok is false where the numbers are too large for one.
func StopID(car, floor ID) (id ID, ok bool) {
	if car <= 0 || floor <= 0 || car >= 1<<stopCar || floor >= 1<<stopCar {
		return 0, false
	}
	return stopMark | car<<stopCar | floor, true
}

// Stop returns the car and the floor of a stop's number; ok is false of any other.
func (id ID) Stop() (car, floor ID, ok bool) {
	if id < stopMark {
		return 0, 0, false
	}
	id -= stopMark
	return id >> stopCar, id & (1<<stopCar - 1), true
}

// StopIDs lists the numbers of all stops of a door; itself where it is no elevator.
func (d *Door) StopIDs() (out []ID) {
	if d.Car == nil {
		return []ID{d.ID}
	}
	for _, s := range d.Car.Stops {
		if id, ok := StopID(d.ID, s.FloorID); ok {
			out = append(out, id)
		}
	}
	return out
}

// Role returns what a reader of the door is for, in words: it changes with what the door is.
func (d *Door) Role(out bool) string {
	switch {
	case d.Car != nil && out:
		return "second reader in the car"
	case d.Car != nil:
		return "reader in the car"
	case out:
		return "reader out"
	}
	return "reader in"
}

// Cars lists the elevators, in the order of the configuration.
func (c *Config) Cars() (out []*Door) {
	for i := range c.Doors {
		if c.Doors[i].Car != nil {
			out = append(out, &c.Doors[i])
		}
	}
	return out
}

// FloorsOf lists the floors of a site, the lowest first.
func (c *Config) FloorsOf(site ID) (out []Floor) {
	for _, f := range c.Floors {
		if f.SiteID == site {
			out = append(out, f)
		}
	}
	slices.SortStableFunc(out, func(a, b Floor) int { return cmp.Compare(a.Level, b.Level) })
	return out
}

// FreeBoards lists the addresses of the expanders of a kind at a controller of which no terminal is used, but for those
// of one door, in their order.
func (c *Config) FreeBoards(x *Controller, kind ExpanderKind, but ID) (out []int) {
	used := map[int]bool{}
	for _, u := range c.Uses(x.ID) {
		if u.ID != but {
			used[int(u.At.Board)] = true
		}
	}
	for _, e := range x.Expanders {
		if e.Kind == kind && !used[e.Address] && !slices.Contains(out, e.Address) {
			out = append(out, e.Address)
		}
	}
	slices.Sort(out)
	return out
}

// CheckCar says what is wrong with an elevator among the rest of a configuration: floors of another site, expanders
// that are not there, of another kind, or used by others.
func (c *Config) CheckCar(d *Door) Faults {
	var fs Faults
	if d.Car == nil {
		return fs
	}
	x := c.Controller(d.ControllerID)
	here := c.SiteOf(d)
	for i, s := range d.Car.Stops {
		k := slices.IndexFunc(c.Floors, func(f Floor) bool { return f.ID == s.FloorID })
		if k >= 0 && here.ID != 0 {
			fs.add(c.Floors[k].SiteID != here.ID, fmt.Sprintf("car.stops[%d].floorId", i), "%s is a floor of another site",
				c.Floors[k].Name)
		}
	}
	if x != nil {
		c.checkRelays(d, x, &fs)
	}
	for i := range d.Car.Stops {
		if i == 0 || d.Car.Stops[i].FloorID == 0 {
			continue
		}
		low, high := c.floor(d.Car.Stops[i-1].FloorID), c.floor(d.Car.Stops[i].FloorID)
		if low != nil && high != nil {
			fs.add(low.Level > high.Level, fmt.Sprintf("car.stops[%d].floorId", i),
				"%s is below %s; list the lowest floor first", high.Name, low.Name)
		}
	}
	if x == nil {
		return fs
	}
	for _, set := range []struct {
		path   string
		boards []int
		kind   ExpanderKind
	}{{"car.boards", d.Car.Boards, OutputExpander}, {"car.buttons", d.Car.Buttons, InputExpander}} {
		for _, b := range set.boards {
			i := slices.IndexFunc(x.Expanders, func(e Expander) bool { return e.Address == b })
			if i < 0 {
				fs.add(true, set.path, "%s has no expander %d; add one with 16 %s first", x.Name, b, set.kind)
				continue
			}
			fs.add(x.Expanders[i].Kind != set.kind, set.path, "expander %d of %s has no %s; choose one that has", b, x.Name,
				set.kind)
			for j := range c.Doors {
				o := &c.Doors[j]
				if o.ID != d.ID && o.ControllerID == d.ControllerID && o.Car != nil {
					fs.add(slices.Contains(o.Car.Boards, b) || slices.Contains(o.Car.Buttons, b), set.path,
						"expander %d is that of %s; choose another", b, o.Name)
				}
			}
		}
	}
	return fs
}

// checkRelays refuses relays that something else uses already.
func (c *Config) checkRelays(d *Door, x *Controller, fs *Faults) {
	used := map[point.Address]Use{}
	for _, u := range c.Uses(x.ID) {
		if u.ID != d.ID {
			used[u.At] = u
		}
	}
	for i, s := range d.Car.Stops {
		at, ok := d.Car.Relay(s.Relay)
		if u, taken := used[at]; ok && taken {
			fs.add(true, fmt.Sprintf("car.stops[%d].relay", i),
				"%s is the %s of %s already; choose another expander, or take that off first", at, u.Words(), u.Name)
		}
	}
}

func (c *Config) floor(id ID) *Floor {
	if i := slices.IndexFunc(c.Floors, func(f Floor) bool { return f.ID == id }); i >= 0 {
		return &c.Floors[i]
	}
	return nil
}

// Ride is floors by elevators, of an entry of a level: each of the floors by each of the cars that stops there.
type Ride struct {
	FloorIDs  []ID `json:"floorIds" doc:"The floors, where not all"`
	AllFloors bool `json:"allFloors,omitempty" doc:"All floors, and those that are added later"`
	CarIDs    []ID `json:"carIds" doc:"The elevators, where not all"`
	AllCars   bool `json:"allCars,omitempty" doc:"All elevators, and those that are added later"`
}

// Equal reports whether two rides say the same.
func (r *Ride) Equal(o *Ride) bool {
	if r == nil || o == nil {
		return r == o
	}
	return r.AllFloors == o.AllFloors && r.AllCars == o.AllCars && slices.Equal(r.FloorIDs, o.FloorIDs) &&
		slices.Equal(r.CarIDs, o.CarIDs)
}

// takes reports whether a ride means a stop of a car.
func (r *Ride) takes(car, floor ID) bool {
	return (r.AllCars || slices.Contains(r.CarIDs, car)) && (r.AllFloors || slices.Contains(r.FloorIDs, floor))
}

func (r *Ride) check(fs *Faults, path string) {
	fs.once(path+".floorIds", r.FloorIDs, "floor")
	fs.once(path+".carIds", r.CarIDs, "elevator")
	fs.add(r.AllFloors && len(r.FloorIDs) > 0, path+".floorIds", "all floors are meant; list none")
	fs.add(r.AllCars && len(r.CarIDs) > 0, path+".carIds", "all elevators are meant; list none")
}
