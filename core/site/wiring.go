package site

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Lit is what somebody saw in the car when one relay was tried: the floor whose button was lit.
type Lit struct {
	Relay   int `json:"relay"`
	FloorID ID  `json:"floorId" doc:"0: none was lit"`
}

// Rewiring is a way in which the relays of a car may be wired, that agrees with all that was seen.
type Rewiring struct {
	Words  string `json:"words"`
	Relays []int  `json:"relays" doc:"Of each stop, the lowest first"`
}

// Rewirings finds how a car may be wired where another floor was lit than the one whose relay was tried: all shifted,
// counted from the wrong end, two exchanged, or, once it was seen whole, in any order. What floors were seen to be
// right stays so. Nothing is returned while all that was seen agrees with what is said, or where no such way does.
func (c *Car) Rewirings(seen []Lit) []Rewiring {
	n := len(c.Stops)
	now := make([]int, n)
	for i, s := range c.Stops {
		now[i] = s.Relay
	}
	if n < 2 || c.agrees(now, seen) {
		return nil
	}
	var out []Rewiring
	offer := func(words string, relays []int) {
		if !c.agrees(relays, seen) ||
			slices.ContainsFunc(out, func(r Rewiring) bool { return slices.Equal(r.Relays, relays) }) {
			return
		}
		out = append(out, Rewiring{words, relays})
	}
	for by := 1; by < n; by++ {
		up := make([]int, n)
		for i := range now {
			up[(i+by)%n] = now[i]
		}
		words := fmt.Sprintf("Every relay works %d floors further up, and the last ones begin at the bottom: shift all.", by)
		switch {
		case by == 1:
			words = "Every relay works one floor further up, and the last one the lowest: shift all by one."
		case by == n-1:
			words = "Every relay works one floor further down, and the first one the highest: shift all by one."
		}
		offer(words, up)
	}
	reversed := slices.Clone(now)
	slices.Reverse(reversed)
	offer("They are counted from the wrong end: turn them round, so that the highest floor has the first relay.", reversed)
	for _, l := range seen {
		i := slices.Index(now, l.Relay)
		k := c.StopAt(l.FloorID)
		if i < 0 || k < 0 || i == k {
			continue
		}
		swapped := slices.Clone(now)
		swapped[i], swapped[k] = swapped[k], swapped[i]
		offer(fmt.Sprintf("Two are exchanged: relays %d and %d change places.", min(now[i], now[k]), max(now[i], now[k])),
			swapped)
	}
	if relays, ok := c.asSeen(seen); ok {
		offer("As you saw it: every floor has the relay that lit it.", relays)
	}
	return out
}

// asSeen is the wiring that was seen whole, in whatever order it is: each floor by one relay. The last one may be left
// to what remains.
func (c *Car) asSeen(seen []Lit) (relays []int, ok bool) {
	relays = make([]int, len(c.Stops))
	left := map[int]bool{}
	for _, s := range c.Stops {
		left[s.Relay] = true
	}
	for _, l := range seen {
		if k := c.StopAt(l.FloorID); k >= 0 && left[l.Relay] && relays[k] == 0 {
			relays[k] = l.Relay
			delete(left, l.Relay)
		}
	}
	if len(left) > 1 {
		return nil, false
	}
	for relay := range left {
		relays[slices.Index(relays, 0)] = relay
	}
	return relays, true
}

// TestWords says what is known of the relays by what was seen.
func (c *Car) TestWords(seen []Lit) string {
	right, wrong, dark := 0, 0, 0
	for _, l := range seen {
		k := c.StopAt(l.FloorID)
		switch {
		case l.FloorID == 0:
			dark++
		case k >= 0 && c.Stops[k].Relay == l.Relay:
			right++
		default:
			wrong++
		}
	}
	words := fmt.Sprintf("%d of %d seen right", right, len(c.Stops))
	if wrong > 0 {
		words += fmt.Sprintf(", %d lit another floor", wrong)
	}
	if dark > 0 {
		words += fmt.Sprintf(", %d lit none: look at the wire and the lamp", dark)
	}
	return words + "."
}

// agrees reports whether stops with these relays are what was seen.
func (c *Car) agrees(relays []int, seen []Lit) bool {
	for _, l := range seen {
		if l.FloorID == 0 {
			continue // no wire at all, or a lamp that is dead: no order of relays explains it
		}
		if k := c.StopAt(l.FloorID); k < 0 || relays[k] != l.Relay {
			return false
		}
	}
	return true
}

// Rewired returns the car with other relays at its stops.
func (c *Car) Rewired(relays []int) (Car, error) {
	out := *c
	if len(relays) != len(c.Stops) {
		return out, Faults{{"relays", fmt.Sprintf("the car has %d stops; give each its relay", len(c.Stops))}}
	}
	out.Stops = slices.Clone(c.Stops)
	for i, r := range relays {
		out.Stops[i].Relay = r
	}
	return out, nil
}

// NewElevator is what is answered to make an elevator.
type NewElevator struct {
	Name         string     `json:"name"`
	ControllerID ID         `json:"controllerId"`
	PlanID       ID         `json:"planId,omitempty" doc:"0: the first that asks for a card"`
	Floors       []NewFloor `json:"floors" doc:"The floors that it serves, the lowest first" maxItems:"200"`
	Second       bool       `json:"second,omitempty" doc:"A second reader is in the car"`
	Keypad       bool       `json:"keypad,omitempty"`
	Buttons      bool       `json:"buttons,omitempty" doc:"Its floor buttons are wired back to inputs"`
	Freight      bool       `json:"freight,omitempty"`
}

// NewFloor is a floor of the site, or one that is made with it.
type NewFloor struct {
	FloorID ID     `json:"floorId,omitempty" doc:"0: a new one"`
	Name    string `json:"name,omitempty" doc:"Of a new one"`
	Level   int    `json:"level,omitempty" doc:"Of a new one: its order in the building, 0 at street level"`
}

// Making is what an elevator is made of, in the order in which it is written: new floors, the controller where it gets
// expanders, and the door whose stops name the floors by their place in Floors.
type Making struct {
	Floors     []Floor // new ones have no number yet
	Controller *Controller
	Door       Door
	Words      string
}

// Stops gives the door its floors, once the new ones have their numbers.
func (m *Making) Stops() {
	for i := range m.Door.Car.Stops {
		m.Door.Car.Stops[i].FloorID = m.Floors[i].ID
	}
	m.Door.FloorID = m.Floors[0].ID
}

// MakeElevator works out an elevator: relays 1, 2, 3 … upward, on expanders of outputs that nobody uses, of which as
// many are added as it takes.
func (c *Config) MakeElevator(in *NewElevator) (m Making, fs Faults) {
	x := c.Controller(in.ControllerID)
	fs.name(in.Name)
	fs.add(x == nil, "controllerId", "choose the controller that its readers are at")
	fs.add(len(in.Floors) < 2, "floors", "an elevator serves at least two floors")
	fs.add(len(in.Floors) > MostStops, "floors", "%d floors: %d expanders of %d relays are at most %d", len(in.Floors),
		MostBoards, RelaysOfBoard, MostStops)
	if len(fs) > 0 {
		return m, fs
	}
	before := c.FloorsOf(x.SiteID)
	for i, f := range in.Floors {
		at := fmt.Sprintf("floors[%d].", i)
		k := slices.IndexFunc(before, func(b Floor) bool { return b.ID == f.FloorID && f.FloorID != 0 })
		if k >= 0 {
			m.Floors = append(m.Floors, before[k])
			continue
		}
		fs.add(f.FloorID != 0, at+"floorId", "this floor is not of the site of %s; choose another", x.Name)
		fresh := Floor{Name: f.Name, SiteID: x.SiteID, Level: f.Level}
		for _, fault := range fresh.Check() {
			fs.add(true, at+fault.Field, "%s", fault.Words)
		}
		m.Floors = append(m.Floors, fresh)
	}
	for i := 1; i < len(m.Floors); i++ {
		fs.add(m.Floors[i-1].Level > m.Floors[i].Level, fmt.Sprintf("floors[%d].level", i),
			"%s is below %s; list the lowest floor first", m.Floors[i].Name, m.Floors[i-1].Name)
	}
	next := *x
	next.Expanders = slices.Clone(x.Expanders)
	boards := c.boardsFor(&next, OutputExpander, len(in.Floors), in.Name)
	var buttons []int
	if in.Buttons {
		buttons = c.boardsFor(&next, InputExpander, len(in.Floors), in.Name+", buttons")
	}
	if added := len(next.Expanders) - len(x.Expanders); added > 0 {
		m.Controller = &next
		if model, known := ModelNamed(x.Model); known {
			room := max(model.Expanders-len(x.Expanders), 0)
			fs.add(added > room, "controllerId",
				"%d more expanders are needed, and the bus of %s has room for %d; choose another, or fewer floors",
				added, x.Name, room)
		}
	}
	m.Door = c.elevatorDoor(in, x, &fs)
	car := UsualCar(make([]ID, len(in.Floors)), boards)
	car.Buttons, car.Freight = buttons, in.Freight
	m.Door.Car = &car
	m.Words = m.words(x, boards, buttons)
	return m, fs
}

// boardsFor finds expanders of a kind for so many floors, and adds those that lack.
func (c *Config) boardsFor(x *Controller, kind ExpanderKind, floors int, name string) []int {
	want := (floors + RelaysOfBoard - 1) / RelaysOfBoard
	boards := c.FreeBoards(x, kind, 0)
	boards = boards[:min(len(boards), want)]
	for len(boards) < want {
		at := x.FreeAddress()
		if at == 0 {
			break
		}
		x.Expanders = append(x.Expanders, Expander{Address: at, Kind: kind, Name: name})
		boards = append(boards, at)
	}
	return boards
}

func (c *Config) elevatorDoor(in *NewElevator, x *Controller, fs *Faults) Door {
	d := Door{Name: in.Name, ControllerID: x.ID, PlanID: in.PlanID, FirstCard: UsualFirstCard(), Hardware: UsualElevator()}
	d.In.Keypad, d.Out.Fitted, d.Out.Keypad = in.Keypad, in.Second, in.Second && in.Keypad
	if d.PlanID == 0 {
		if i := slices.IndexFunc(c.Plans,
			func(p Plan) bool { return len(p.Segments()) == 0 && !p.Default.AsksPIN() }); i >= 0 {
			d.PlanID = c.Plans[i].ID
		} else if len(c.Plans) > 0 {
			d.PlanID = c.Plans[0].ID
		}
	}
	for port := 1; port <= x.Doors(); port++ {
		if !slices.ContainsFunc(c.Doors, func(o Door) bool { return o.ControllerID == x.ID && o.Port == port }) {
			d.Port = port
			break
		}
	}
	fs.add(d.Port == 0, "controllerId", "every port of %s drives a door; choose another, or add an expander for readers",
		x.Name)
	return d
}

func (m *Making) words(x *Controller, boards, buttons []int) string {
	words := fmt.Sprintf("%d floors, %s to %s, by relays 1 to %d on %s of %s", len(m.Floors), m.Floors[0].Name,
		m.Floors[len(m.Floors)-1].Name, len(m.Floors), expanders(boards), x.Name)
	if len(buttons) > 0 {
		words += "; its buttons come back on " + expanders(buttons)
	}
	fresh := 0
	for _, f := range m.Floors {
		if f.ID == 0 {
			fresh++
		}
	}
	switch fresh {
	case 0:
	case 1:
		words += "; 1 floor is new"
	default:
		words += fmt.Sprintf("; %d floors are new", fresh)
	}
	if m.Controller != nil {
		added := m.Controller.Expanders[len(x.Expanders):]
		list := make([]int, len(added))
		for i, e := range added {
			list[i] = e.Address
		}
		words += "; " + expanders(list) + " added: set the address at the expander itself"
	}
	return words + "."
}

func expanders(list []int) string {
	if len(list) == 1 {
		return fmt.Sprintf("expander %d", list[0])
	}
	var names []string
	for _, a := range list {
		names = append(names, strconv.Itoa(a))
	}
	return "expanders " + strings.Join(names, ", ")
}
