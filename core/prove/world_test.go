package prove

import (
	"encoding/json"
	"fmt"
	"testing"

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
		w := NewWorld(b, from, image.Secrets{}, func(controller site.ID, e *panel.Event) {
			text, err := json.Marshal(e)
			require.NoError(t, err)
			all = append(all, fmt.Sprintf("%d %s", controller, text))
			if e.Kind == panel.ModeNow {
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
	w := NewWorld(b, at(t, "2026-12-01T09:00:00-04:00"), image.Secrets{}, func(c site.ID, e *panel.Event) {
		if e.Kind == panel.ModeNow {
			said = append(said, c)
		}
	})
	w.Run(at(t, "2026-12-02T23:00:00-04:00"))
	require.NotEmpty(t, said)
	for i := 0; i < len(said); i += 2 {
		assert.Equal(t, []site.ID{9, 8}, said[i:i+2])
	}
	only := NewWorld(b, at(t, "2026-12-01T09:00:00-04:00"), image.Secrets{}, func(c site.ID, _ *panel.Event) { assert.Equal(t, site.ID(8), c) }, 8)
	assert.Nil(t, only.Doors(9))
	assert.Len(t, only.Doors(8), 1)
	assert.Error(t, only.Do(0, 9, panel.Input{}))
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
		Levels:      []site.Level{{ID: 40, Name: "Crew", Entries: []site.Entry{{DoorID: 1, ScheduleID: 30}}}},
		People: []site.Person{{ID: 50, Name: "Ada", Levels: []site.Grant{{LevelID: 40}},
			Cards: []site.CardHeld{{Format: "26-bit", Facility: 42, Number: 7, Status: site.Active}}}},
	}, map[site.ID]hours.Zone{9: {Name: "UTC"}})
	w := NewWorld(b, 0, image.Secrets{}, func(_ site.ID, e *panel.Event) {
		fmt.Println(e.At.Time().Format("15:04:05"), b.Headline(e))
	})
	read, _ := cards.Standard26.Encode(42, 7)
	_ = w.Do(60_000, 9, panel.Input{Kind: panel.CardRead, Port: 1, Bits: read})
	w.Run(120_000) // nobody opens
	// Output:
	// 00:00:00 Controller started
	// 00:00:00 Asks now: card
	// 00:01:00 Granted
	// 00:01:05 Granted, but not opened
}
