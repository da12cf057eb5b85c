package review

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/site"
	"amberkeystone/internal/largesite"
)

// sound is a configuration with nothing to find.
func sound() *site.Config {
	gallery := hours.Pattern{}
	var office hours.Week
	for d := range 5 {
		gallery.Paint(d, hours.Segment{Period: hours.Period{Start: 600, End: 1020}, Mode: hours.Free, First: true})
		office[d] = []hours.Period{{Start: 480, End: 1080}}
	}
	return &site.Config{
		Sites: []site.Site{{ID: 1, Name: "House"}}, Floors: []site.Floor{{ID: 2, SiteID: 1}},
		Controllers: []site.Controller{{ID: 3, SiteID: 1}},
		Types:       []site.HolidayType{{ID: 4, Name: "Quiet", Plans: site.AsWeekday, Schedules: site.Closed}},
		Holidays: []site.Holiday{
			{ID: 5, TypeID: 4, Name: "New Year", HolidayDates: hours.HolidayDates{Kind: hours.EveryYear, Month: 1, Day: 1},
				End: 1440},
		},
		Schedules: []site.Schedule{{ID: 6, Name: "Office", Week: office}},
		Plans: []site.Plan{
			{ID: 7, Name: "Gallery", Pattern: gallery, Holidays: []site.PlanHoliday{{TypeID: 4, Do: site.DefaultMode}}},
		},
		Doors: []site.Door{{ID: 8, Name: "Door", FloorID: 2, ControllerID: 3, PlanID: 7}},
		Changes: []site.DatedChange{
			{ID: 9, Name: "Evening", Mode: hours.Free, DoorIDs: []site.ID{8}, From: "2026-12-01T18:00",
				Until: "2026-12-01T21:00"},
		},
		Levels: []site.Level{{ID: 10, Name: "Staff", Entries: []site.Entry{site.At(8, 6)}}},
		People: []*site.Person{
			{ID: 11, Credentials: []site.Credential{site.NewCard("26-bit", 0, 1)}, Levels: []site.Grant{{LevelID: 10}}},
		},
	}
}

func findings(t *testing.T, c *site.Config) []Finding {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	now := hours.At(time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC))
	z := hours.ZoneFrom(loc, now-400*86400000, now+900*86400000)
	zone := func(site.ID) *hours.Zone { return &z }
	return Hours(c, site.NewTimetable(c, zone), zone, now)
}

func TestNothingToFind(t *testing.T) { assert.Empty(t, findings(t, sound())) }

// A site without floors has its holidays all the same.
func TestHolidaysWithoutFloors(t *testing.T) {
	c := sound()
	c.Floors, c.Doors, c.Changes, c.Levels, c.People, c.Plans, c.Schedules = nil, nil, nil, nil, nil, nil, nil
	for _, f := range findings(t, c) {
		assert.NotEqual(t, "no-holidays", f.Code)
	}
}

// Each finding: how a sound configuration is spoiled, and what is then said.
func TestFindings(t *testing.T) {
	for _, c := range []struct {
		code     string
		severity Severity
		says     string
		click    bool
		spoil    func(c *site.Config)
	}{
		{"no-holidays", Risky, "next 13 months", false, func(c *site.Config) { c.Holidays = nil }},
		{"pin-without-keypad", Wrong, "Gallery asks for card and PIN at Door", false, func(c *site.Config) {
			c.Doors[0].In.Fitted = true
			c.Plans[0].Paint([]site.Row{{Day: 2}}, hours.Segment{
				Period: hours.Period{Start: 1200, End: 1260}, Mode: hours.CardAndPIN,
			})
		}},
		{"pin-without-keypad", Wrong, "Evening asks for PIN at Door", false, func(c *site.Config) { c.Doors[0].In.Fitted, c.Changes[0].Mode = true, hours.PIN }},
		{"pin-without-keypad", Wrong, "Gallery asks for PIN at Door", false, func(c *site.Config) {
			c.Doors[0].In.Fitted = true
			c.Plans[0].Holidays[0] = site.PlanHoliday{
				TypeID: 4, Do: site.OwnHours, Segments: []hours.Segment{{Period: hours.Period{Start: 0, End: 60}, Mode: hours.PIN}},
			}
		}},
		{"pin-length", Risky, "PINs have 6 digits now, and Ada (4) has one of another length", false, func(c *site.Config) {
			c.Settings.PINLength, c.People[0].Name, c.People[0].PIN, c.People[0].PINLength = 6, "Ada", &cards.PINHash{}, 4
		}},
		{"holiday-nothing", Untidy, "Half term changes nothing anywhere", true, func(c *site.Config) {
			c.Types = append(c.Types, site.HolidayType{ID: 14, Name: "Note", Plans: site.AsWeekday, Schedules: site.AsWeekday})
			c.Plans[0].Holidays = append(c.Plans[0].Holidays, site.PlanHoliday{TypeID: 14, Do: site.AsWeekday})
			c.Holidays = append(c.Holidays, site.Holiday{
				ID: 15, TypeID: 14, Name: "Half term", HolidayDates: hours.HolidayDates{Kind: hours.EveryYear, Month: 2, Day: 10},
				End: 1440,
			})
		}},
		{"holiday-nothing", Untidy, "Sailing day changes nothing at Island", true, func(c *site.Config) {
			c.Sites, c.Floors = append(c.Sites, site.Site{ID: 16, Name: "Island"}), append(c.Floors, site.Floor{
				ID: 18, SiteID: 16,
			})
			c.Holidays[0].SiteIDs = []site.ID{1}
			c.Holidays = append(c.Holidays, site.Holiday{
				ID: 17, TypeID: 4, Name: "Sailing day", SiteIDs: []site.ID{16},
				HolidayDates: hours.HolidayDates{Kind: hours.EveryYear, Month: 7, Day: 10}, End: 1440,
			})
		}},
		{"night-cut", Risky, "In Gallery the night of Quiet ends at midnight; on weekdays it runs on until 06:00", true, func(c *site.Config) {
			for d := range 7 {
				c.Plans[0].Pattern.Paint(d, hours.Segment{Period: hours.Period{Start: 1320, End: 1800}, Mode: hours.CardAndPIN})
			}
			c.Plans[0].Holidays[0] = site.PlanHoliday{
				TypeID: 4, Do: site.OwnHours,
				Segments: []hours.Segment{{Period: hours.Period{Start: 0, End: 1440}, Mode: hours.CardAndPIN}},
			}
		}},
		{"night-cut", Risky, "In Office the night of Quiet ends at midnight; on weekdays it runs on until 02:00", false, func(c *site.Config) {
			c.Schedules[0].Week[4] = append(c.Schedules[0].Week[4], hours.Period{Start: 1200, End: 1560})
			c.Schedules[0].Holidays = []site.ScheduleHoliday{
				{TypeID: 4, Do: site.OwnHours, Periods: []hours.Period{{Start: 1200, End: 1440}}},
			}
		}},
		{"no-holidays", Risky, "House", false, func(c *site.Config) {
			c.Holidays[0].HolidayDates = hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2028-01-01"}}
		}},
		{"plan-silent", Risky, "go free on Quiet", true, func(c *site.Config) { c.Plans[0].Holidays = nil }},
		{"plan-silent", Risky, "stay on card on Quiet, even at hours at which they are barred on a weekday", false, func(c *site.Config) {
			c.Plans[0].Holidays, c.Types[0].Plans = nil, site.DefaultMode
			c.Plans[0].Pattern.Paint(6, hours.Segment{Period: hours.Period{Start: 0, End: 300}, Mode: hours.Barred})
		}},
		{"plan-silent", Untidy, "it follows what the type says", true, func(c *site.Config) { c.Plans[0].Holidays, c.Types[0].Plans = nil, site.DefaultMode }},
		{"weekend-free", Risky, "Saturday and Sunday", true, func(c *site.Config) {
			c.Plans[0].Pattern = hours.Pattern{Default: hours.Free}
			for d := range 5 {
				c.Plans[0].Pattern.Paint(d, hours.Segment{Period: hours.Period{Start: 0, End: 600}, Mode: hours.Card})
			}
			c.Changes = nil
		}},
		{"missing-hour", Untidy, "02:30, a time that does not exist on Sun 14 Mar 2027", false, func(c *site.Config) {
			c.Plans[0].Pattern.Paint(6, hours.Segment{Period: hours.Period{Start: 150, End: 300}, Mode: hours.Barred})
		}},
		{"missing-hour", Untidy, "02:30", false, func(c *site.Config) { // a night that ends in it
			c.Plans[0].Pattern.Paint(5, hours.Segment{Period: hours.Period{Start: 1320, End: 1440 + 150}, Mode: hours.Barred})
		}},
		{"schedule-unused", Untidy, "Nothing uses Spare", true, func(c *site.Config) {
			c.Schedules = append(c.Schedules, site.Schedule{ID: 20, Name: "Spare", Week: hours.Always()})
		}},
		{"schedule-never", Risky, "never opens", false, func(c *site.Config) {
			c.Schedules[0].Week = hours.Week{}
			c.Plans[0].Pattern.Week[0][0].First = false
			for d := range 5 {
				c.Plans[0].Pattern.Week[d][0].First = false
			}
		}},
		{"change-past", Untidy, "entirely in the past", true, func(c *site.Config) { c.Changes[0].From, c.Changes[0].Until = "2026-11-01T18:00", "2026-11-01T21:00" }},
		{"change-past", Untidy, "entirely in the past", true, func(c *site.Config) {
			c.Changes[0].Recurs, c.Changes[0].Ended = "FREQ=DAILY", "2026-11-20T12:00"
			c.Changes[0].From, c.Changes[0].Until = "2026-11-01T18:00", "2026-11-01T21:00"
		}},
		{"change-nothing", Untidy, "would ask for card anyway", true, func(c *site.Config) { c.Changes[0].Mode = hours.Card }},
		{"change-nowhere", Untidy, "without doors", true, func(c *site.Config) { c.Changes[0].DoorIDs, c.Changes[0].FloorIDs = nil, []site.ID{99} }},
		{"changes-overlap", Risky, "Night was made later, so it decides", false, func(c *site.Config) {
			c.Changes = append(c.Changes, site.DatedChange{
				ID: 30, Name: "Night", Mode: hours.Barred, SiteIDs: []site.ID{1}, From: "2026-12-01T20:00",
				Until: "2026-12-02T02:00",
			})
		}},
		{"change-on-holiday", Risky, "Evening falls on New Year, Fri 1 Jan 2027: Door goes free", true, func(c *site.Config) {
			c.Changes[0].From, c.Changes[0].Until = "2026-12-25T18:00", "2026-12-25T21:00"
			c.Changes[0].Recurs = "FREQ=WEEKLY;COUNT=3"
		}},
		{"first-card-nobody", Wrong, "never goes free", false, func(c *site.Config) { c.Doors[0].FirstCard = site.FirstCard{Who: site.Openers, Counts: site.FromStart} }},
		{"first-card-nobody", Wrong, "nobody has access", false, func(c *site.Config) { c.People[0].Suspended = true }},
		{"first-card-nobody", Wrong, "nobody has access", false, func(c *site.Config) { // hours that never meet
			for d := range 5 {
				c.Schedules[0].Week[d] = []hours.Period{{Start: 1100, End: 1200}}
			}
		}},
	} {
		config := sound()
		c.spoil(config)
		list := findings(t, config)
		if !assert.Len(t, list, 1, c.code) {
			continue
		}
		f := list[0]
		assert.Equal(t, c.code, f.Code)
		assert.Equal(t, c.severity, f.Severity, c.code)
		assert.Contains(t, f.Words, c.says)
		assert.NotEmpty(t, f.Mend)
		assert.Equal(t, c.click, f.Click != "", c.code)
		switch v := f.Mended.(type) { // what the click leaves has nothing to find any more
		case *site.Plan:
			config.Plans[0] = *v
			assert.Empty(t, findings(t, config), c.code)
		case *site.DatedChange:
			config.Changes[0] = *v
			assert.Empty(t, findings(t, config), c.code)
		}
	}
}

// The click lets the night run on, and no more: what the row leaves out before it stays left out.
func TestNightRunsOn(t *testing.T) {
	c := sound()
	for d := range 7 {
		c.Plans[0].Pattern.Paint(d, hours.Segment{Period: hours.Period{Start: 1320, End: 1800}, Mode: hours.Barred})
	}
	c.Plans[0].Holidays[0] = site.PlanHoliday{
		TypeID:   4,
		Do:       site.OwnHours,
		Segments: []hours.Segment{{Period: hours.Period{Start: 1380, End: 1440}, Mode: hours.Barred}},
	}
	list := findings(t, c)
	require.Len(t, list, 1)
	assert.Equal(t, "Run on until 06:00", list[0].Click)
	assert.Equal(t, []hours.Segment{{Period: hours.Period{Start: 1380, End: 1800}, Mode: hours.Barred}},
		list[0].Mended.(*site.Plan).Holidays[0].Segments)
}

// Adjacent changes of one mode, and of two modes that only touch, are no overlap; an earlier card counts.
func TestNotFindings(t *testing.T) {
	c := sound()
	c.Changes = append(
		c.Changes,
		site.DatedChange{
			ID: 30, Name: "After", Mode: hours.Barred, DoorIDs: []site.ID{8}, From: "2026-12-01T21:00",
			Until: "2026-12-01T22:00",
		},
	)
	assert.Empty(t, findings(t, c))
	c = sound()
	for d := range 5 {
		c.Schedules[0].Week[d] = []hours.Period{{Start: 570, End: 590}}
	}
	c.Doors[0].FirstCard = site.FirstCard{Who: site.Anybody, Counts: site.FromMinutes, Before: 30}
	assert.Empty(t, findings(t, c))
}

// Everything that is to be found on the large site of the design's section 8.
func BenchmarkLargeSite(b *testing.B) {
	c := largesite.Config()
	for i := range c.Plans { // every door waits for a first card
		for d := range c.Plans[i].Week {
			for k := range c.Plans[i].Week[d] {
				c.Plans[i].Week[d][k].Mode, c.Plans[i].Week[d][k].First = hours.Free, true
			}
		}
	}
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(b, err)
	now := hours.At(time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC))
	z := hours.ZoneFrom(loc, now-400*86400000, now+900*86400000)
	zone := func(site.ID) *hours.Zone { return &z }
	times := site.NewTimetable(c, zone)
	b.Run("hours", func(b *testing.B) {
		for b.Loop() {
			Hours(c, times, zone, now)
		}
	})
	for name, c := range map[string]*site.Config{"people": c, "people, hardly two alike": largesite.Scattered()} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				People(c, c.Effective(), times, zone, now, Known{})
			}
		})
	}
}
