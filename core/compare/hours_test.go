package compare

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
	"amberkeystone/internal/largesite"
)

func halifax(t require.TestingT) *hours.Zone {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	z := hours.ZoneFrom(loc, hours.At(time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2029, 1, 1, 0, 0, 0, 0, time.UTC)))
	return &z
}

func effect(c *site.Config, z *hours.Zone, e Edit) Effect {
	zone := func(site.ID) *hours.Zone { return z }
	is := e.Apply(c)
	from := hours.At(time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC))
	return Hours(c, is, site.NewTimetable(c, zone), Timetable(is, zone, from), from)
}

func museum() *site.Config {
	gallery, staff := hours.Pattern{}, hours.Week{}
	for d := 1; d < 7; d++ {
		gallery.Paint(d, hours.Segment{Period: hours.Period{Start: 600, End: 1020}, Mode: hours.Free})
		staff[d] = []hours.Period{{Start: 480, End: 1080}}
	}
	return &site.Config{
		Sites: []site.Site{{ID: 1}}, Floors: []site.Floor{{ID: 2, SiteID: 1}},
		Controllers: []site.Controller{{ID: 3, SiteID: 1}},
		Types:       []site.HolidayType{{ID: 4, Plans: site.DefaultMode, Schedules: site.Closed}},
		Plans:       []site.Plan{{ID: 7, Pattern: gallery}, {ID: 8}},
		Schedules:   []site.Schedule{{ID: 6, Week: staff}},
		Doors: []site.Door{
			{ID: 20, FloorID: 2, ControllerID: 3, PlanID: 7},
			{ID: 21, FloorID: 2, ControllerID: 3, PlanID: 7},
			{ID: 22, FloorID: 2, ControllerID: 3, PlanID: 8},
		},
		Levels: []site.Level{{ID: 30, Entries: []site.Entry{site.At(20, 6)}}, {ID: 31}},
		People: []*site.Person{
			{ID: 40, Levels: []site.Grant{{LevelID: 30}}},
			{ID: 41, Levels: []site.Grant{{LevelID: 30}}},
			{ID: 42, Levels: []site.Grant{{LevelID: 31}}},
		},
	}
}

func TestHours(t *testing.T) {
	z := halifax(t)
	when := func(e Effect) string { return z.Time(e.First).Format("Mon 2 Jan 2006 15:04") }

	longer := museum().Plans[0]
	longer.Pattern = longer.Pattern.Normal()
	longer.Pattern.Paint(4, hours.Segment{Period: hours.Period{Start: 1020, End: 1140}, Mode: hours.Free})
	e := effect(museum(), z, Edit{Plan: &longer})
	assert.Equal(t, []site.ID{20, 21}, e.Doors)
	assert.Equal(t, "Fri 27 Nov 2026 17:00", when(e))
	assert.Equal(t, 56, e.Days) // the Fridays of 13 months
	assert.Equal(t, 120, e.Modes[hours.Free])
	assert.Len(t, e.Gainers, 2, "free is open to them after their own hours too")
	assert.Empty(t, e.Losers)
	assert.Equal(t, []Consequence{{"+2 h 00 free on Fri 27 Nov 2026", 1}, {"−2 h 00 card on Fri 27 Nov 2026", 0}},
		e.Words(z))

	holiday := site.Holiday{
		TypeID: 4, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26", "2026-12-24"}},
		End: 1440,
	}
	e = effect(museum(), z, Edit{Holiday: &holiday})
	assert.Equal(t, []site.ID{20, 21}, e.Doors)
	assert.Equal(t, "Thu 26 Nov 2026 08:00", when(e), "the cards stop before the door would have gone free")
	assert.Len(t, e.Losers, 2)
	assert.Empty(t, e.Gainers)
	assert.Equal(t, 2, e.Days)

	shorter := museum().Schedules[0]
	shorter.Week[6] = nil
	e = effect(museum(), z, Edit{Schedule: &shorter})
	assert.Empty(t, e.Doors)
	assert.Equal(t, "Sun 29 Nov 2026 08:00", when(e))
	assert.Equal(t, 2, e.People)
	assert.Equal(t, []Consequence{{"−10 h 00 open on Sun 29 Nov 2026", -1}}, e.Words(z))

	evening := site.DatedChange{
		Mode: hours.Free, SiteIDs: []site.ID{1}, From: "2026-11-27T16:00", Until: "2026-11-27T21:30",
	}
	e = effect(museum(), z, Edit{Change: &evening})
	assert.Len(t, e.Doors, 3)
	assert.Equal(t, "Fri 27 Nov 2026 16:00", when(e), "the door that would ask for a card then")
	assert.Equal(t, site.ID(22), e.Where)
	assert.Equal(t, 330, e.Modes[hours.Free])
	assert.Equal(t, 1, e.Days)

	moved := museum().Doors[0]
	moved.PlanID = 8
	e = effect(museum(), z, Edit{Door: &moved})
	assert.Equal(t, []site.ID{20}, e.Doors, "which follows another plan")
	assert.Equal(t, "Tue 24 Nov 2026 10:00", when(e))
	assert.Zero(t, e.People, "who have the door by their card at those hours anyway")

	nothing := site.DatedChange{
		Mode: hours.Card, DoorIDs: []site.ID{22}, From: "2026-11-27T16:00", Until: "2026-11-27T21:30",
	}
	e = effect(museum(), z, Edit{Change: &nothing})
	assert.Equal(t, hours.Never, e.First)
	assert.Empty(t, e.Words(z))
}

// Applying an edit leaves the configuration alone; removing turns adding back.
func TestEditApply(t *testing.T) {
	c := museum()
	h := site.Holiday{
		TypeID: 4, Name: "Day", HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}},
		End: 1440,
	}
	with := Edit{Holiday: &h}.Apply(c)
	require.Len(t, with.Holidays, 1)
	assert.Empty(t, c.Holidays)
	assert.Equal(t, Fresh, with.Holidays[0].ID)
	assert.Empty(t, Edit{Remove: Fresh}.Apply(with).Holidays)
	assert.Zero(t, h.ID)
	bad := site.Plan{Pattern: hours.Pattern{Week: [7][]hours.Segment{{{Period: hours.Period{Start: 5, End: 2}}}}}}
	assert.NotEmpty(t, Edit{Plan: &bad}.Check())
	assert.Empty(t, Edit{Plan: &site.Plan{}}.Check(), "a name is not looked at")
}

// The consequence of one edit on the large site of the design's section 8; under a second is the aim.
func BenchmarkLargeSite(b *testing.B) { consequences(b, largesite.Config()) }

// The same where hardly two people hold the same levels.
func BenchmarkScatteredSite(b *testing.B) { consequences(b, largesite.Scattered()) }

func consequences(b *testing.B, c *site.Config) {
	z := halifax(b)
	zone := func(site.ID) *hours.Zone { return z }
	before := site.NewTimetable(c, zone)
	from := hours.At(time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC))
	plan := c.Plans[3]
	plan.Pattern = plan.Pattern.Normal()
	plan.Pattern.Paint(4, hours.Segment{Period: hours.Period{Start: 1200, End: 1260}, Mode: hours.Free})
	schedule := c.Schedules[3]
	schedule.Week[2] = nil
	holiday := site.Holiday{
		TypeID: 4, HolidayDates: hours.HolidayDates{Kind: hours.EveryYear, Month: 12, Day: 6}, End: 1440,
	}
	change := site.DatedChange{
		Mode: hours.Barred, SiteIDs: []site.ID{1}, From: "2026-12-04T18:00", Until: "2026-12-04T20:00", Recurs: "FREQ=WEEKLY",
	}
	level := c.Levels[7]
	level.Entries = level.Entries[:len(level.Entries)-1]
	guard := site.UsualAlarmArea(0) // of as many doors as a large controller has
	guard.ID, guard.ScheduleID = 1<<50, c.Schedules[3].ID
	for _, d := range c.Doors[:64] {
		guard.DoorIDs = append(guard.DoorIDs, d.ID)
	}
	for name, e := range map[string]Edit{"level": {Level: &level}, "plan": {Plan: &plan},
		"schedule": {Schedule: &schedule}, "holiday": {Holiday: &holiday}, "dated change": {Change: &change},
		"alarm area": {AlarmArea: &guard}} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				is := e.Apply(c)
				x := Hours(c, is, before, Timetable(is, zone, from), from)
				if x.First == hours.Never || x.People == 0 && e.AlarmArea != nil {
					b.Fatal("nothing differs")
				}
			}
		})
	}
}

// A schedule's consequence on a dense site: 125 doors with 160 ways through each, and hardly two people alike.
func BenchmarkDenseSite(b *testing.B) {
	c, z := largesite.Scattered(), halifax(b)
	c.Doors = c.Doors[:125]
	for i := range c.Levels {
		for k := range c.Levels[i].Entries {
			e := &c.Levels[i].Entries[k]
			e.Target.ID = 1000 + (e.Target.ID-1000)%125
		}
	}
	for i := range c.Changes {
		c.Changes[i].DoorIDs = []site.ID{site.ID(1000 + i)}
	}
	zone := func(site.ID) *hours.Zone { return z }
	before := site.NewTimetable(c, zone)
	from := hours.At(time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC))
	schedule := c.Schedules[3]
	schedule.Week[2] = nil
	is := Edit{Schedule: &schedule}.Apply(c)
	for b.Loop() {
		x := Hours(c, is, before, Timetable(is, zone, from), from)
		if x.First == hours.Never {
			b.Fatal("nothing differs")
		}
	}
}
