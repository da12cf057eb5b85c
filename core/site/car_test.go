package site

import (
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/point"
)

func floorsFrom(n int) (out []ID) {
	for i := range n {
		out = append(out, ID(100+i))
	}
	return out
}

// Floor ⇄ (expander, relay) is one to one over all that a car may have (common practice: 8 expanders of 16 are 128).
func TestRelays(t *testing.T) {
	require.Equal(t, 128, MostStops)
	rapid.Check(t, func(t *rapid.T) {
		boards := rapid.SliceOfNDistinct(rapid.IntRange(1, MaxExpanderAddress), 1, MostBoards, rapid.ID[int]).Draw(t,
			"boards")
		c := UsualCar(floorsFrom(rapid.IntRange(2, len(boards)*RelaysOfBoard).Draw(t, "floors")), boards)
		seen := map[point.Address]bool{}
		for _, s := range c.Stops {
			at, ok := c.Relay(s.Relay)
			require.True(t, ok)
			require.False(t, seen[at], at.String())
			seen[at] = true
			require.Equal(t, s.Relay, c.RelayAt(at))
			require.Contains(t, boards, int(at.Board))
		}
	})
	c := UsualCar(floorsFrom(20), []int{1, 2, 3})
	at, ok := c.Relay(17)
	assert.True(t, ok)
	assert.Equal(t, "2/o1", at.String(), "floor 17 is relay 1 of the second expander")
	assert.Len(t, c.Boards, 2, "no more expanders than it needs")
	_, ok = c.Relay(33)
	assert.False(t, ok)
	assert.Zero(t, c.RelayAt(point.Address{Board: 3, Kind: point.Output, Number: 1}))
}

func TestCarChecks(t *testing.T) {
	for name, c := range map[string]struct {
		bend func(c *Car)
		want string
	}{
		"sound":         {func(*Car) {}, ""},
		"one floor":     {func(c *Car) { c.Stops = c.Stops[:1] }, "at least two floors"},
		"too many":      {func(c *Car) { *c = UsualCar(floorsFrom(129), []int{1, 2, 3, 4, 5, 6, 7, 8}) }, "129 floors"},
		"few expanders": {func(c *Car) { *c = UsualCar(floorsFrom(40), []int{1, 2}) }, "want 3 expanders"},
		"twice":         {func(c *Car) { c.Stops[2].Relay = 1 }, "relay 1 is that of stop 1 already"},
		"a gap":         {func(c *Car) { c.Stops[3].Relay = 9 }, "relay 4 is missing"},
		"beyond":        {func(c *Car) { c.Stops[3].Relay = 129 }, "relay 129: they are counted from 1 to 128"},
		"floor twice":   {func(c *Car) { c.Stops[1].FloorID = c.Stops[0].FloorID }, "once at each floor"},
		"board twice":   {func(c *Car) { c.Boards = []int{1, 1} }, "expander 1 is listed twice"},
		"no fire":       {func(c *Car) { c.Fire = "" }, "drop or release"},
		"another order": {func(c *Car) { c.Stops[0].Relay, c.Stops[3].Relay = 4, 1 }, ""},
	} {
		t.Run(name, func(t *testing.T) {
			car := UsualCar(floorsFrom(4), []int{1})
			c.bend(&car)
			var fs Faults
			car.check(&fs)
			if c.want == "" {
				assert.Empty(t, fs)
				return
			}
			require.NotEmpty(t, fs)
			assert.ErrorContains(t, fs, c.want)
		})
	}
}

// tower is a site of five floors with two elevators; the second carries goods and serves the lower three.
func tower() *Config {
	c := &Config{Sites: []Site{{ID: 1, Name: "Tower"}}, Controllers: []Controller{{ID: 2, SiteID: 1, Ports: 4,
		Expanders: []Expander{{Address: 1, Kind: OutputExpander}, {Address: 2, Kind: OutputExpander},
			{Address: 3, Kind: InputExpander}}}}}
	for i := range 5 {
		c.Floors = append(c.Floors, Floor{ID: ID(100 + i), SiteID: 1, Level: i, Name: string(rune('a' + i))})
	}
	front, goods := UsualCar(floorsFrom(5), []int{1}), UsualCar(floorsFrom(3), []int{2})
	goods.Freight = true
	c.Doors = []Door{
		{ID: 10, FloorID: 100, ControllerID: 2, Port: 1, Hardware: UsualElevator(), Car: &front},
		{ID: 11, FloorID: 100, ControllerID: 2, Port: 2, Hardware: UsualElevator(), Car: &goods},
		{ID: 12, FloorID: 101, ControllerID: 2, Port: 3, Hardware: UsualHardware()},
	}
	return c
}

// What an entry of a level means of elevators.
func TestRides(t *testing.T) {
	stops := func(list ...int) (s StopSet) {
		for _, i := range list {
			s.Add(i)
		}
		return s
	}
	for name, c := range map[string]struct {
		entry Entry
		want  []Covered
	}{
		"chosen floors by chosen cars": {
			Entry{Ride: &Ride{FloorIDs: []ID{101, 104}, CarIDs: []ID{10, 11}}},
			[]Covered{{DoorID: 10, Stops: stops(1, 4)}, {DoorID: 11, Stops: stops(1)}},
		},
		"all cars but the one for goods": {
			Entry{Ride: &Ride{FloorIDs: []ID{100}, AllCars: true}, Except: []Target{{Kind: AtDoor, ID: 11}}},
			[]Covered{{DoorID: 10, Stops: stops(0)}},
		},
		"all floors, but for one": {
			Entry{Ride: &Ride{AllFloors: true, CarIDs: []ID{11}}, Except: []Target{{Kind: AtFloor, ID: 102}}},
			[]Covered{{DoorID: 11, Stops: stops(0, 1)}},
		},
		"floors without a car": {Entry{Ride: &Ride{AllFloors: true}}, nil},
		"a car without a floor": {
			Entry{Ride: &Ride{CarIDs: []ID{11}, FloorIDs: []ID{104}}}, []Covered{{DoorID: 11, Side: SideNone}},
		},
		"a floor is its doors, and the stops there": {
			Entry{Target: Target{Kind: AtFloor, ID: 101}}, []Covered{
				{DoorID: 12}, {DoorID: 10, Stops: stops(1)}, {DoorID: 11, Stops: stops(1)},
			},
		},
		"a car by its name is all its floors": {Entry{Target: Target{Kind: AtDoor, ID: 11}}, []Covered{{DoorID: 11, Stops: stops(0, 1, 2)}}},
		"everything": {
			Entry{Target: Target{Kind: Everything}},
			[]Covered{{DoorID: 12}, {DoorID: 10, Stops: stops(0, 1, 2, 3, 4)}, {DoorID: 11, Stops: stops(0, 1, 2)}},
		},
	} {
		t.Run(name, func(t *testing.T) {
			if c.entry.Ride != nil {
				c.entry.Target.Kind = AtStops
			}
			assert.Equal(t, append([]Covered{}, c.want...), NewPlaces(tower()).Entries(&Level{Entries: []Entry{c.entry}}))
		})
	}
}

func TestCheckCar(t *testing.T) {
	for name, c := range map[string]struct {
		bend func(c *Config)
		want string
	}{
		"sound":             {func(*Config) {}, ""},
		"no such expander":  {func(c *Config) { c.Doors[0].Car.Boards = []int{7} }, "has no expander 7"},
		"of inputs":         {func(c *Config) { c.Doors[0].Car.Boards = []int{3} }, "has no outputs"},
		"another's":         {func(c *Config) { c.Doors[0].Car.Boards = []int{2} }, "is that of"},
		"another site":      {func(c *Config) { c.Floors[2].SiteID = 9 }, "floor of another site"},
		"not lowest first":  {func(c *Config) { c.Doors[0].Car.Stops[0].FloorID = 104 }, "list the lowest floor first"},
		"buttons, of wrong": {func(c *Config) { c.Doors[0].Car.Buttons = []int{2} }, "has no inputs"},
	} {
		t.Run(name, func(t *testing.T) {
			cfg := tower()
			c.bend(cfg)
			fs := cfg.CheckCar(&cfg.Doors[0])
			if c.want == "" {
				assert.Empty(t, fs)
				return
			}
			assert.ErrorContains(t, fs, c.want)
		})
	}
	assert.Equal(t, []int{3}, tower().FreeBoards(&tower().Controllers[0], InputExpander, 0))
}

// What is seen in the car finds how its relays are wired: any shift, any reversal, any two exchanged.
func TestRewirings(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(3, 40).Draw(t, "floors")
		c := UsualCar(floorsFrom(n), []int{1, 2, 3})
		real := make([]int, n) // of each stop, as it is wired
		for i := range real {
			real[i] = i + 1
		}
		switch rapid.IntRange(0, 3).Draw(t, "wrong") {
		case 0:
			by := rapid.IntRange(1, n-1).Draw(t, "by")
			for i := range real {
				real[(i+by)%n] = i + 1
			}
		case 1:
			for i := range real {
				real[i] = n - i
			}
		case 2:
			a, b := rapid.IntRange(0, n-1).Draw(t, "a"), rapid.IntRange(0, n-1).Draw(t, "b")
			real[a], real[b] = real[b], real[a]
		case 3:
			real = rapid.Permutation(real).Draw(t, "real")
		}
		var seen []Lit
		for _, i := range rapid.Permutation(real).Draw(t, "order") { // every relay is tried
			for stop, relay := range real {
				if relay == i {
					seen = append(seen, Lit{Relay: i, FloorID: c.Stops[stop].FloorID})
				}
			}
		}
		if rapid.Bool().Draw(t, "all but one") {
			seen = seen[1:]
		}
		mends := c.Rewirings(seen)
		right := true
		for i, s := range c.Stops {
			right = right && s.Relay == real[i]
		}
		if right {
			require.Empty(t, mends, "nothing is wrong")
			return
		}
		require.Len(t, mends, 1)
		require.Equal(t, real, mends[0].Relays)
		mended, err := c.Rewired(mends[0].Relays)
		require.NoError(t, err)
		require.Empty(t, mended.Rewirings(seen), "then all agrees")
		var fs Faults
		mended.check(&fs)
		require.Empty(t, fs)
	})
}

// One look at one floor leaves what agrees with it, the likeliest first; a dark one proposes nothing.
func TestOneLook(t *testing.T) {
	c := UsualCar(floorsFrom(4), []int{1})
	mends := c.Rewirings([]Lit{{Relay: 1, FloorID: 101}})
	require.Len(t, mends, 2)
	assert.Equal(t, []int{4, 1, 2, 3}, mends[0].Relays)
	assert.Contains(t, mends[0].Words, "one floor further up")
	assert.Equal(t, []int{2, 1, 3, 4}, mends[1].Relays)
	assert.Empty(t, c.Rewirings([]Lit{{Relay: 1}}))
	assert.Equal(t, "1 of 4 seen right, 1 lit another floor, 1 lit none: look at the wire and the lamp.",
		c.TestWords([]Lit{{Relay: 1, FloorID: 100}, {Relay: 2, FloorID: 103}, {Relay: 3}}))
	assert.Equal(t, []int{4, 3, 2, 1}, c.Rewirings([]Lit{{Relay: 1, FloorID: 103}, {Relay: 2, FloorID: 102}})[0].Relays,
		"from the wrong end")
}

// An elevator is made by answering: relays upward by themselves, expanders added where they lack.
func TestMakeElevator(t *testing.T) {
	c := tower()
	c.Plans = []Plan{{ID: 50, Name: "Card at all hours"}}
	c.Controllers[0].Name, c.Controllers[0].Zone = "Riser", "America/Halifax"
	c.Controllers[0].Model = "Stand-in 4"
	ask := NewElevator{
		Name: "Back elevator", ControllerID: 2, Floors: []NewFloor{{Name: "Garage", Level: -1}, {FloorID: 100},
			{FloorID: 103}},
	}
	m, fs := c.MakeElevator(&ask)
	require.Empty(t, fs)
	assert.Equal(t,
		"3 floors, Garage to d, by relays 1 to 3 on expander 4 of Riser; 1 floor is new; expander 4 added: set the address at the expander itself.", m.Words)
	m.Floors[0].ID = 900
	m.Stops()
	assert.Equal(t, []Stop{{FloorID: 900, Relay: 1}, {FloorID: 100, Relay: 2}, {FloorID: 103, Relay: 3}}, m.Door.Car.Stops)
	assert.Equal(t, 4, m.Door.Port, "the first that is free")
	assert.Empty(t, m.Door.Check())
	next := *c
	next.Floors, next.Controllers = append(c.Floors, m.Floors[0]), []Controller{*m.Controller}
	assert.Empty(t, next.CheckCar(&m.Door))
	for want, bend := range map[string]func(*NewElevator){
		"give it a name":          func(e *NewElevator) { e.Name = "" },
		"choose the controller":   func(e *NewElevator) { e.ControllerID = 77 },
		"at least two floors":     func(e *NewElevator) { e.Floors = e.Floors[:1] },
		"list the lowest floor":   func(e *NewElevator) { e.Floors[0].Level = 9 },
		"not of the site":         func(e *NewElevator) { e.Floors[1].FloorID = 4711 },
		"200 floors: 8 expanders": func(e *NewElevator) { e.Floors = make([]NewFloor, 200) },
		"7 more expanders are needed, and the bus of Riser has room for 5; choose another, or fewer floors": func(e *NewElevator) {
			for i := range 107 {
				e.Floors = append(e.Floors, NewFloor{Name: strconv.Itoa(i), Level: i + 10})
			}
		},
		"floors[0].name: give it a": func(e *NewElevator) { e.Floors[0].Name = "" },
	} {
		bent := ask
		bent.Floors = append([]NewFloor{}, ask.Floors...)
		bend(&bent)
		_, fs := c.MakeElevator(&bent)
		assert.ErrorContains(t, fs, want)
	}
}
