package review

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

// built is a place about whose hardware there is nothing to say.
func built() *site.Config {
	d := site.Door{ID: 10, Name: "Yard gate", ControllerID: 1, Port: 1, Outside: "Quay", Hardware: site.UsualHardware()}
	c := &site.Config{
		Settings:    site.DefaultSettings(),
		Controllers: []site.Controller{{ID: 1, Name: "Riser", Model: "Stand-in 4", Ports: 4, People: 100, Resistor: 1000}},
		Doors:       []site.Door{d},
		Schedules:   []site.Schedule{{ID: 30, Name: "Always", Fixed: true}},
	}
	c.Settings.Cards = []site.CardFormat{{Format: cards.Standard26.Name, Facilities: []uint64{42}}}
	return c
}

// elevator makes the door one of three floors, about which there is nothing to say until it is bent.
func elevator(bend func(d *site.Door)) func(*site.Config) {
	return func(c *site.Config) {
		c.Controllers[0].Expanders = []site.Expander{
			{Address: 3, Kind: site.OutputExpander}, {Address: 4, Kind: site.OutputExpander},
		}
		c.Floors = []site.Floor{{ID: 70, Name: "Low"}, {ID: 71, Name: "Middle"}, {ID: 72, Name: "High"}}
		car := site.UsualCar([]site.ID{70, 71, 72}, []int{3})
		d := &c.Doors[0]
		d.Hardware, d.Car = site.UsualElevator(), &car
		bend(d)
	}
}

// A sound elevator lacks nothing: it has no contact and no exit request, and needs none.
func TestSoundElevator(t *testing.T) {
	c := built()
	elevator(func(*site.Door) {})(c)
	assert.Empty(t, Hardware(c, nil, 0))
}

func TestHardware(t *testing.T) {
	const now = 10 * hours.FullDay
	online := map[site.ID]Unit{
		1: {Online: true, Since: now, Readers: map[point.Address]bool{point.At(point.Reader, 1): true}},
	}
	require.Empty(t, Hardware(built(), online, now))
	door := func(f func(d *site.Door)) func(*site.Config) { return func(c *site.Config) { f(&c.Doors[0]) } }
	unit := func(u Unit) map[site.ID]Unit { return map[site.ID]Unit{1: u} }
	for _, c := range []struct {
		code   string
		change func(c *site.Config)
		units  map[site.ID]Unit
	}{
		{"magnet-secure", door(func(d *site.Door) { d.Lock = site.Magnetic }), nil},
		{"no-fire-release", door(func(d *site.Door) { d.Lock, d.FailSafe = site.Magnetic, true }), nil},
		{"fire-strike", door(func(d *site.Door) { d.FireDoor, d.FailSafe = true, true }), nil},
		{"no-way-out", door(func(d *site.Door) { d.Exit = site.NotFitted }), nil},
		{"exit-forced", door(func(d *site.Door) { d.Exit = site.NotFitted }), nil},
		{"no-contact", door(func(d *site.Door) { d.Contact, d.Relock = site.NotFitted, site.AtEnd }), nil},
		{"no-format", door(func(d *site.Door) { d.In.Formats = []string{"gone"} }), nil},
		{"factory", door(func(d *site.Door) { d.Outside = "" }), nil},
		{"unnamed", door(func(d *site.Door) { d.Name = "Door 3" }), nil},
		{"name-twice", func(c *site.Config) {
			d := c.Doors[0]
			d.ID, d.Port, d.Name = 11, 2, "yard  Gate"
			c.Doors = append(c.Doors, d)
		}, nil},
		{"no-resistors", func(c *site.Config) { c.Controllers[0].Resistor, c.Doors[0].ContactSupervised = 0, true }, nil},
		{"any-facility", func(c *site.Config) { c.Settings.Cards[0].Facilities = nil }, nil},
		{"terminal-missing", door(func(d *site.Door) { d.Points = &site.Points{Lock: point.At(point.Output, 99)} }), nil},
		{"terminal-twice", func(c *site.Config) {
			c.Inputs = []site.Input{
				{ID: 20, Name: "Window", ControllerID: 1, At: point.At(point.Input, 1), Use: site.InputSense},
			}
		}, nil},
		{"expander-twice", func(c *site.Config) {
			c.Controllers[0].Expanders = []site.Expander{
				{Address: 2, Kind: site.InputExpander}, {Address: 2, Kind: site.OutputExpander},
			}
		}, nil},
		{"too-many-doors", func(c *site.Config) { c.Controllers[0].Ports = 0 }, nil},
		{"voltage-low", func(c *site.Config) {
			c.Supplies = []site.Supply{{ID: 40, Name: "Supply", Volts: 12, Milliamps: 900}}
			d := &c.Doors[0]
			d.SupplyID, d.Milliamps, d.Cable = 40, 500, site.Cable{Metres: 90, Gauge: 22}
		}, nil},
		{"supply-weak", func(c *site.Config) {
			c.Supplies = []site.Supply{{ID: 40, Name: "Supply", Volts: 12, Milliamps: 300}}
			c.Doors[0].SupplyID, c.Doors[0].Milliamps = 40, 500
		}, nil},
		{"everybody", func(c *site.Config) {
			c.Levels = []site.Level{
				{ID: 50, Name: "All", Entries: []site.Entry{{Target: site.Target{Kind: site.Everything}, ScheduleID: 30}}},
			}
			c.People = []*site.Person{{ID: 60, Levels: []site.Grant{{LevelID: 50}}}}
		}, nil},
		{"car-as-door", door(func(d *site.Door) {
			d.Name, d.Contact, d.Exit, d.Relock = "Back elevator", site.NotFitted, site.NotFitted, site.AtEnd
		}), nil},
		{"car-no-reader", elevator(func(d *site.Door) { d.In.Fitted = false }), nil},
		{"floor-no-relay", elevator(func(d *site.Door) { d.Car.Boards = nil }), nil},
		{"relay-no-floor", elevator(func(d *site.Door) { d.Car.Boards = []int{3, 4} }), nil},
		{"terminal-missing", elevator(func(d *site.Door) { d.Car.Boards = []int{7} }), nil},
		{"terminal-twice", func(c *site.Config) {
			elevator(func(*site.Door) {})(c)
			c.Outputs = []site.Output{
				{ID: 20, Name: "Siren", ControllerID: 1, At: point.Address{Board: 3, Kind: point.Output, Number: 2}},
			}
		}, nil},
		{"clock-off", func(*site.Config) {}, unit(Unit{Online: true, Since: now, DriftMs: -10_001})},
		{"offline-long", func(*site.Config) {}, unit(Unit{Since: now - hours.FullDay - 1, Trouble: "it does not answer"})},
		{"address-unreachable", func(*site.Config) {}, unit(Unit{Online: true, Since: now, Unreachable: "it is in none of the subnets"})},
		{"needs-firmware", door(func(d *site.Door) { d.In.Connection = site.OSDP }), unit(Unit{Online: true, Since: now, Lacks: map[string]string{"OSDP readers": "OSDP readers need 1.1; Riser has 1.0"}})},
		{"over-capacity", func(*site.Config) {}, unit(Unit{Online: true, Since: now, People: 101})},
		{"no-answer", func(*site.Config) {}, unit(Unit{Online: true, Since: now, Readers: map[point.Address]bool{point.At(point.Reader, 1): false}})},
	} {
		t.Run(c.code, func(t *testing.T) {
			x := built()
			c.change(x)
			units := c.units
			if units == nil {
				units = online
			}
			list := Hardware(x, units, now)
			i := slices.IndexFunc(list, func(f Finding) bool { return f.Code == c.code })
			require.GreaterOrEqual(t, i, 0, "%v", list)
			assert.NotEmpty(t, list[i].Mend)
			assert.Equal(t, "build", list[i].Station)
			if d, ok := list[i].Mended.(*site.Door); ok { // the click mends it
				x.Doors[0] = *d
				assert.False(t, slices.ContainsFunc(Hardware(x, units, now), func(f Finding) bool { return f.Code == c.code }))
			}
			if c.units == nil { // what is out of use is not judged
				x.Doors[0].OutOfUse = true
				if _, about := map[string]bool{"magnet-secure": true, "fire-strike": true, "no-way-out": true,
					"no-format": true}[c.code]; about {
					assert.False(t, slices.ContainsFunc(Hardware(x, units, now), func(f Finding) bool { return f.Code == c.code }))
				}
			}
		})
	}
}
