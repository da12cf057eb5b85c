package script

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/panel"
	"amberkeystone/core/pass"
	"amberkeystone/core/point"
	"amberkeystone/core/site"
)

func place() *site.Config {
	lab := site.Door{ID: 1, Name: "Lab, outer door", ControllerID: 9, Port: 2, Hardware: site.UsualHardware()}
	gate := site.Door{ID: 2, Name: "Gate at sea out", ControllerID: 9, Port: 1, Hardware: site.UsualHardware()}
	gate.Contact, gate.Exit = site.NormallyOpen, site.NormallyClosed
	held := func(n uint64, s site.CredentialStatus) site.Credential {
		return site.Credential{Kind: site.Card, Format: "26-bit", Value: fmt.Sprintf("42-%05d", n), Status: s}
	}
	return &site.Config{
		Controllers: []site.Controller{{ID: 9, Name: "Riser"}, {ID: 8, Name: "Other"}}, Doors: []site.Door{lab, gate},
		People: []*site.Person{
			{Name: "Ada Reed", Credentials: []site.Credential{held(1, site.Lost), held(2, site.Active)}}, {Name: "Ben"},
		},
	}
}

func TestParse(t *testing.T) {
	const now, until = "2026-11-26T18:00:05-04:00, riser, ", "2026-11-26T20:00:00-04:00"
	ends, err := time.Parse(time.RFC3339, until)
	require.NoError(t, err)
	for what, want := range map[string]string{
		"Ada Reed at Lab, outer door":          "{1 r3 open 10010101000000000000000100 0 false}",
		"card 42-00002 at lab, outer door out": "{1 r4 open 10010101000000000000000100 0 false}",
		"card 5 at Gate at sea out":            "{1 r1 open 00000000000000000000000000000101 0 false}",
		"plate ab 12 at Lab, outer door":       "{1 r3 open  0 false}",
		"card 5 at Gate at sea out out":        "{1 r2 open 00000000000000000000000000000101 0 false}",
		"open Lab, outer door":                 "{3 i3 open  0 false}",
		"close Lab, outer door":                "{3 i3 closed  0 false}",
		"open Gate at sea out":                 "{3 i1 closed  0 false}",
		"press Lab, outer door":                "{3 i4 closed  0 false}",
		"release Lab, outer door":              "{3 i4 open  0 false}",
		"press Gate at sea out":                "{3 i2 open  0 false}",
		"network lost":                         "{4  open  0 false}",
		"network back":                         "{4  open  0 true}",
	} {
		acts, err := Parse("# nothing yet\n\n"+now+what+"\n", place())
		require.NoError(t, err, what)
		require.Len(t, acts, 1)
		in := acts[0].Input
		assert.Equal(t, want, fmt.Sprintf("{%d %s %s %s %d %v}", in.Kind, in.Point, in.Circuit, in.Bits, in.Key, in.On), what)
		assert.Equal(t, site.ID(9), acts[0].Controller)
	}
	for what, want := range map[string]panel.Input{
		"hold Lab, outer door in free": {Kind: panel.Hold, On: true, Doors: []site.ID{1}},
		"hold Gate at sea out in card and PIN until " + until: {Kind: panel.Hold, On: true, Doors: []site.ID{2},
			Mode: hours.CardAndPIN, Until: hours.At(ends)},
		"end hold Lab, outer door":     {Kind: panel.Hold, Doors: []site.ID{1}},
		"lockdown":                     {Kind: panel.Lockdown, On: true},
		"end lockdown Lab, outer door": {Kind: panel.Lockdown, Doors: []site.ID{1}},
		"fire":                         {Kind: panel.Fire, On: true},
		"end fire":                     {Kind: panel.Fire},
	} {
		for _, who := range []string{"riser", "All"} {
			acts, err := Parse("2026-11-26T18:00:05-04:00, "+who+", "+what, place())
			require.NoError(t, err, what)
			if want.Mode == hours.Card && want.On && want.Kind == panel.Hold {
				want.Mode = hours.Free
			}
			assert.Equal(t, want, acts[0].Input)
			assert.Equal(t, who == "All", acts[0].Controller == 0)
		}
	}
	acts, err := Parse(now+"keys 48# at Lab, outer door", place())
	require.NoError(t, err)
	require.Len(t, acts, 3)
	assert.Equal(t, panel.Input{Kind: panel.Key, Point: point.At(point.Reader, 3), Key: '#'}, acts[2].Input)
}

func TestRefusals(t *testing.T) {
	for text, says := range map[string]string{
		"2026-11-26T18:00:05-04:00, Riser":                                                     "with commas between",
		"noon, Riser, network lost":                                                            "is not an instant",
		"2026-11-26T18:00:05-04:00, Attic, network lost":                                       `no controller "Attic"`,
		"2026-11-26T18:00:05-04:00, Riser, hold Lab, outer door in ajar":                       `"ajar" is not a passage mode`,
		"2026-11-26T18:00:05-04:00, Riser, hold Lab, outer door in free until noon":            `"noon" is not an instant`,
		"2026-11-26T18:00:05-04:00, Riser, lockdown Cellar":                                    `no door "Cellar"`,
		"2026-11-26T18:00:05-04:00, all, network lost":                                         "is not for all controllers",
		"2026-11-26T18:00:05-04:00, Riser, dance":                                              "is not understood",
		"2026-11-26T18:00:05-04:00, Riser, Ada Reed at Cellar":                                 `no door "Cellar"`,
		"2026-11-26T18:00:05-04:00, Other, Ada Reed at Lab, outer door":                        "this controller has no door",
		"2026-11-26T18:00:05-04:00, Riser, Eve at Lab, outer door":                             `nobody named "Eve"`,
		"2026-11-26T18:00:05-04:00, Riser, Ben at Lab, outer door":                             "Ben has no card",
		"2026-11-26T18:00:05-04:00, Riser, card x-1 at Lab, outer door":                        "is not a card number",
		"2026-11-26T18:00:05-04:00, Riser, card 999-1 at Lab, outer door":                      "255",
		"2026-11-26T18:00:05-04:00, Riser, keys 12a at Lab, outer door":                        "0 to 9",
		"2026-11-26T18:00:05Z, Riser, network lost\n2026-11-26T18:00:04Z, Riser, network back": "line 2: it is earlier",
	} {
		_, err := Parse(text, place())
		var e *Error
		if assert.ErrorAs(t, err, &e, text) {
			assert.Contains(t, e.Error(), says, text)
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add("2026-11-26T18:00:05-04:00, Riser, Ada Reed at Lab, outer door out")
	f.Add("2026-11-26T18:00:05Z, Riser, keys 1# at Gate at sea out\n# x\n\n")
	f.Add(",,")
	c := place()
	f.Fuzz(func(t *testing.T, s string) {
		acts, err := Parse(s, c)
		for i, a := range acts {
			if a.Controller == 0 || i > 0 && a.At < acts[i-1].At {
				t.Fatalf("%q gives %v", s, acts)
			}
		}
		if e, ok := err.(*Error); err != nil && (!ok || e.Line < 1) {
			t.Fatalf("%q: %v", s, err)
		}
	})
}

// What an operator does with people who wait, whom they clear, an input with a name, and a lockdown that was made
// ready.
func TestRulesInScripts(t *testing.T) {
	c := place()
	c.Controllers[0].Zone = "America/Halifax"
	c.People[0].ID = 50
	c.Screenings = []site.Screening{{ID: 70, Name: "Guests in the lab", Lasts: site.LastsMidnight}}
	c.Emergencies = []site.Emergency{
		{ID: 71, Name: "All shut", Does: site.Lockdown, Targets: []site.Target{{Kind: site.AtDoor, ID: 2}}},
	}
	c.Inputs = []site.Input{
		{ID: 72, Name: "Panic button", ControllerID: 9, At: point.At(point.Input, 9), Contact: site.NormallyOpen},
	}
	at := func(s string) hours.Instant {
		x, err := time.Parse(time.RFC3339, s)
		require.NoError(t, err)
		return hours.At(x)
	}
	c.AlarmAreas = []site.AlarmArea{
		{ID: 73, Name: "Lab", DoorIDs: []site.ID{1, 2}, Inputs: []site.Watched{{InputID: 72}}},
		{ID: 74, Name: "Lab at night", DoorIDs: []site.ID{2}},
	}
	for what, want := range map[string]panel.Input{
		"arm lab":          {Kind: panel.Arm, On: true, Rule: 73, Note: "script"},
		"arm Lab at night": {Kind: panel.Arm, On: true, Rule: 74, Note: "script"},
		"disarm Lab":       {Kind: panel.Arm, Rule: 73, Note: "script"},
		"arm Lab without Lab, outer door, panic button": {Kind: panel.Arm, On: true, Rule: 73, Note: "script", Left: []site.ID{1, 72}},
	} {
		acts, err := Parse("2026-11-26T18:00:05-04:00, Riser, "+what, c)
		require.NoError(t, err, what)
		assert.Equal(t, want, acts[0].Input)
	}
	for what, says := range map[string]string{
		"arm Cellar": "write arm AREA", "disarm Lab without Panic button": "write arm AREA",
		"arm Lab without Cellar": "no door or input of Lab",
	} {
		_, err := Parse("2026-11-26T18:00:05-04:00, Riser, "+what, c)
		assert.ErrorContains(t, err, says)
	}
	now := at("2026-11-26T18:00:05-04:00")
	word := pass.Clearance{Person: 50, Screening: 70, At: now, Until: at("2026-11-27T00:00:00-04:00"), By: "script"}
	gone := word
	gone.Until = 0
	for what, want := range map[string]panel.Input{
		"all, clear Ada Reed in Guests in the lab":    {Kind: panel.Cleared, Clearances: []pass.Clearance{word}},
		"all, withdraw ada reed in guests in the lab": {Kind: panel.Cleared, Clearances: []pass.Clearance{gone}},
		"all, lockdown All shut":                      {Kind: panel.Lockdown, On: true, Rule: 71, Doors: []site.ID{2}},
		"all, end lockdown all shut":                  {Kind: panel.Lockdown, Rule: 71, Doors: []site.ID{2}},
		"riser, confirm Lab, outer door":              {Kind: panel.Confirm, On: true, Doors: []site.ID{1}},
		"riser, deny Lab, outer door":                 {Kind: panel.Confirm, Doors: []site.ID{1}},
		"riser, press Panic button":                   {Kind: panel.Reading, Point: point.At(point.Input, 9), Circuit: point.Closed},
		"riser, release panic button":                 {Kind: panel.Reading, Point: point.At(point.Input, 9), Circuit: point.Open},
	} {
		acts, err := Parse("2026-11-26T18:00:05-04:00, "+what, c)
		require.NoError(t, err, what)
		require.Len(t, acts, 1)
		want.Bits, want.Shown = acts[0].Input.Bits, acts[0].Input.Shown
		assert.Equal(t, want, acts[0].Input, what)
	}
	for what, says := range map[string]string{
		"all, clear Nobody in Guests in the lab": "write clear PERSON in SCREENING",
		"riser, fire All shut":                   "no door",
		"riser, confirm":                         "no door",
	} {
		_, err := Parse("2026-11-26T18:00:05-04:00, "+what, c)
		assert.ErrorContains(t, err, says, what)
	}
}

// A floor button is pressed and let go; a floor is released by hand. Both name the floor, then the elevator.
func TestFloors(t *testing.T) {
	c := place()
	car := site.UsualCar([]site.ID{4, 5}, []int{1})
	c.Sites = []site.Site{{ID: 3, Name: "House"}}
	c.Floors = []site.Floor{{ID: 4, SiteID: 3, Name: "Made in Rye", Level: 0}, {ID: 5, SiteID: 3, Name: "Roof", Level: 1}}
	c.Doors = append(c.Doors, site.Door{
		ID: 6, Name: "Hoist", FloorID: 4, ControllerID: 9, Port: 3, Hardware: site.UsualElevator(), Car: &car,
	})
	const now = "2026-11-26T18:00:05-04:00, riser, "
	_, err := Parse(now+"floor Roof in Hoist", c)
	assert.ErrorContains(t, err, "the buttons of Hoist are not wired back")
	car.Buttons = []int{2}
	acts, err := Parse(now+"floor Roof in Hoist", c)
	require.NoError(t, err)
	require.Len(t, acts, 2)
	assert.Equal(t, "2/i2 closed, 2/i2 open", fmt.Sprintf("%s %s, %s %s", acts[0].Input.Point, acts[0].Input.Circuit,
		acts[1].Input.Point, acts[1].Input.Circuit))
	acts, err = Parse(now+"admit made in rye in hoist", c)
	require.NoError(t, err)
	assert.Equal(t, panel.Input{Kind: panel.Release, On: true, Doors: []site.ID{6}, Floors: []site.ID{4}}, acts[0].Input)
	_, err = Parse(now+"floor Cellar in Hoist", c)
	assert.ErrorContains(t, err, "a floor at which it stops")
}
