package compare

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// A rule that changes is told at its doors, whatever it is; one that is off, or only has another name, is not.
func TestOtherRulesAreTold(t *testing.T) {
	z := halifax(t)
	zone := func(site.ID) *hours.Zone { return z }
	from := z.Resolve(hours.DayOf(2026, 11, 23), 600)
	base := func() *site.Config {
		c := museum()
		c.Schedules = append(slices.Clone(c.Schedules), site.Schedule{ID: 64, Week: hours.Always()})
		c.Groups = []site.Group{{ID: 60, PersonIDs: []site.ID{40}}}
		c.Proofs = []site.Proofs{{ID: 61, Kind: site.Combined, DoorIDs: []site.ID{20}, ScheduleID: 64, Window: 20,
			Combinations: []site.Combination{{Total: 2, Parts: []site.Part{{GroupID: 60, Count: 1}}}}}}
		c.Areas = []site.Area{{ID: 63, Mode: site.PassbackRefuse}}
		c.Doors[2].InsideAreaID = 63
		c.AlarmAreas = []site.AlarmArea{{ID: 65, DoorIDs: []site.ID{22}, Reads: 2, ScheduleID: 64}}
		c.Interlocks = []site.Interlock{{ID: 62, DoorIDs: []site.ID{21, 22}}}
		return c
	}
	for name, x := range map[string]struct {
		change func(c *site.Config)
		doors  []site.ID
	}{
		"nothing":                 {func(*site.Config) {}, nil},
		"a name":                  {func(c *site.Config) { c.Proofs[0].Name, c.Interlocks[0].Name = "Two", "Lock" }, nil},
		"who is in a group":       {func(c *site.Config) { c.Groups[0].PersonIDs = []site.ID{40, 41} }, []site.ID{20}},
		"a window":                {func(c *site.Config) { c.Proofs[0].Window = 30 }, []site.ID{20}},
		"the hours of two rules":  {func(c *site.Config) { c.Schedules[len(c.Schedules)-1].Week = hours.Week{} }, []site.ID{20, 22}},
		"reads that arm":          {func(c *site.Config) { c.AlarmAreas[0].Reads = 3 }, []site.ID{22}},
		"what sounds":             {func(c *site.Config) { c.AlarmAreas[0].Sounds = 3 }, nil},
		"another door":            {func(c *site.Config) { c.Proofs[0].DoorIDs = []site.ID{20, 21} }, []site.ID{21}},
		"an interlock that waits": {func(c *site.Config) { c.Interlocks[0].Waits = true }, []site.ID{21, 22}},
		"switched off":            {func(c *site.Config) { c.Interlocks[0].Off = true }, []site.ID{21, 22}},
		"an area's limit":         {func(c *site.Config) { c.Areas[0].Most = 5 }, []site.ID{22}},
		"between other areas":     {func(c *site.Config) { c.Doors[1].InsideAreaID = 63 }, []site.ID{21}},
		"a toggle":                {func(c *site.Config) { toggle := site.UsualToggle(); c.Doors[0].Toggle = &toggle }, []site.ID{20}},
		"a toggle that is off":    {func(c *site.Config) { c.Doors[0].Toggle = &site.Toggle{Reads: 2, Seconds: 5, Off: true} }, nil},
	} {
		t.Run(name, func(t *testing.T) {
			was, is := base(), base()
			x.change(is)
			e := Hours(was, is, site.NewTimetable(was, zone), Timetable(is, zone, from), from)
			assert.Equal(t, x.doors, e.Rules)
			if len(x.doors) == 1 {
				says := e.Sentence(Naming{Name: func(site.ID) string { return "the door" }})
				assert.Contains(t, says, "Other rules hold at the door.")
			}
		})
	}
}

// Who must be cleared from now on is told; who must no longer gains nothing that they had not once cleared.
func TestScreenedIsTold(t *testing.T) {
	z := halifax(t)
	zone := func(site.ID) *hours.Zone { return z }
	from := z.Resolve(hours.DayOf(2026, 11, 23), 600)
	was, is := museum(), museum()
	is.Screenings = []site.Screening{{ID: 70, PersonIDs: []site.ID{is.People[0].ID}, Lasts: site.LastsMidnight}}
	n := Naming{Name: func(site.ID) string { return "Ada" }}
	e := Hours(was, is, site.NewTimetable(was, zone), Timetable(is, zone, from), from)
	assert.Equal(t, "Nobody's access changes, and no door asks anything else. Ada must be cleared from now on.",
		e.Sentence(n))
	e = Hours(is, was, site.NewTimetable(is, zone), Timetable(was, zone, from), from)
	assert.Empty(t, e.Screened)
	is.Screenings[0].LogOnly = true
	e = Hours(was, is, site.NewTimetable(was, zone), Timetable(is, zone, from), from)
	assert.Empty(t, e.Screened, "it refuses nobody")
}
