package prove

import (
	"encoding/json"
	"fmt"
	"testing"

	"amberkeystone/core/pass"
	"amberkeystone/core/point"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/panel"
	"amberkeystone/core/site"
)

// twoControllers is layered with a second door on a controller of its own.
func twoControllers(t *testing.T) *Book {
	c := *layered(t).Config
	second := c.Doors[0]
	second.ID, second.Name, second.ControllerID = 2, "Slipway gate", 8
	c.Doors = append(c.Doors, second)
	c.Controllers = []site.Controller{{ID: 9, Name: "Riser"}, {ID: 8, Name: "Boathouse"}}
	z := *layered(t).Zone(1)
	return NewBook(&c, map[site.ID]hours.Zone{9: z, 8: z})
}

// What the panels of a world say of a door over a year is what its timeline says, boundary for boundary, and the same
// again.
func TestWorldOfAYear(t *testing.T) {
	b := twoControllers(t)
	from, to := at(t, "2026-06-01T00:00:00-03:00"), at(t, "2027-06-01T00:00:00-03:00")
	run := func() (all []string, modes map[site.ID][]hours.Stretch) {
		modes = map[site.ID][]hours.Stretch{}
		w := NewWorld(b, from, image.Secrets{}, func(controller site.ID, e *pass.Fact) {
			text, err := json.Marshal(e)
			require.NoError(t, err)
			all = append(all, fmt.Sprintf("%d %s", controller, text))
			if e.Kind == pass.ModeNow {
				modes[e.Door] = append(modes[e.Door], hours.Stretch{From: e.At, Mode: e.Mode})
			}
		})
		w.Run(to)
		assert.Equal(t, to, w.Now())
		return all, modes
	}
	all, modes := run()
	for door, said := range modes {
		line := b.Line(door)
		require.Greater(t, len(said), 50)
		for i, s := range said {
			end := to
			if i+1 < len(said) {
				end = said[i+1].From
			}
			for _, at := range []hours.Instant{s.From, end - 1} {
				require.Equal(t, line.Asked(line.At(at).Ask), s.Mode, "%s", line.Time(at))
			}
		}
	}
	assert.Len(t, modes, 2)
	again, _ := run()
	assert.Equal(t, all, again, "to the byte")
}

// Of equal instants the controller that comes first is first; who is not chosen is not there.
func TestWorldInOrder(t *testing.T) {
	b := twoControllers(t)
	var said []site.ID
	w := NewWorld(b, at(t, "2026-12-01T09:00:00-04:00"), image.Secrets{}, func(c site.ID, e *pass.Fact) {
		if e.Kind == pass.ModeNow {
			said = append(said, c)
		}
	})
	w.Run(at(t, "2026-12-02T23:00:00-04:00"))
	require.NotEmpty(t, said)
	for i := 0; i < len(said); i += 2 {
		assert.Equal(t, []site.ID{9, 8}, said[i:i+2])
	}
	only := NewWorld(b, at(t, "2026-12-01T09:00:00-04:00"), image.Secrets{},
		func(c site.ID, _ *pass.Fact) { assert.Equal(t, site.ID(8), c) }, 8)
	assert.Nil(t, only.Doors(9))
	assert.Len(t, only.Doors(8), 1)
	assert.Error(t, only.Do(0, 9, panel.Input{}))
}

// An order goes to all controllers; one that is cut off goes on with what it knows, and is told when it is back.
func TestOrdersAreRelayed(t *testing.T) {
	b := twoControllers(t)
	start := at(t, "2026-12-01T09:00:00-04:00")
	w := NewWorld(b, start, image.Secrets{}, func(site.ID, *pass.Fact) {})
	asks := func(controller site.ID) hours.Layer { return w.Doors(controller)[0].Layer }
	require.NoError(t, w.Do(start, 8, panel.Input{Kind: panel.Network}))
	require.NoError(t, w.Order(start+1000, panel.Input{Kind: panel.Lockdown, On: true}))
	require.NoError(t, w.Order(start+2000, panel.Input{Kind: panel.Hold, On: true, Mode: hours.Free, Doors: []site.ID{2}}))
	assert.Equal(t, hours.Lockdown, asks(9))
	assert.Less(t, asks(8), hours.OperatorHold, "it does not know")
	require.NoError(t, w.Order(start+3000, panel.Input{Kind: panel.Lockdown}))
	require.NoError(t, w.Do(start+4000, 8, panel.Input{Kind: panel.Network, On: true}))
	assert.Less(t, asks(9), hours.OperatorHold, "the hold is of the other door")
	assert.Equal(t, hours.OperatorHold, asks(8), "all that was ordered, in its order")
	assert.Error(t, w.Order(start+5000, panel.Input{Kind: panel.Read}))
}

// A simulated evening: a newcomer meets World first here.
func ExampleWorld() {
	always := hours.Always()
	b := NewBook(&site.Config{
		Settings:    site.DefaultSettings(),
		Controllers: []site.Controller{{ID: 9, Name: "Riser"}},
		Doors:       []site.Door{{ID: 1, Name: "Gate", Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()}},
		Plans:       []site.Plan{{ID: 20, Name: "Card at all hours"}},
		Schedules:   []site.Schedule{{ID: 30, Name: "Always", Week: always, Fixed: true}},
		Levels:      []site.Level{{ID: 40, Name: "Crew", Entries: []site.Entry{site.At(1, 30)}}},
		People: []*site.Person{{ID: 50, Name: "Ada", Levels: []site.Grant{{LevelID: 40}},
			Credentials: []site.Credential{site.NewCard("26-bit", 42, 7)}}},
	}, map[site.ID]hours.Zone{9: {Name: "UTC"}})
	w := NewWorld(b, 0, image.Secrets{}, func(_ site.ID, e *pass.Fact) {
		fmt.Println(e.At.Time().Format("15:04:05"), b.Headline(e))
	})
	read, _ := cards.Standard26.Encode(42, 7)
	_ = w.Do(60_000, 9, panel.Input{Kind: panel.Read, Point: point.At(point.Reader, 1), Bits: read})
	w.Run(120_000) // nobody opens
	// Output:
	// 00:00:00 Controller started
	// 00:00:00 Asks now: card
	// 00:01:00 Granted
	// 00:01:05 Granted, but not opened
}
