package image

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// two sites, a controller in each, a holiday at each and one everywhere, and dated changes by door, floor and site.
func twoSites() *site.Config {
	day := func(id, at site.ID, date string) site.Holiday {
		h := site.Holiday{
			ID: id, Name: "Holiday", TypeID: 5, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{date}},
			End: 1440,
		}
		if at != 0 {
			h.SiteIDs = []site.ID{at}
		}
		return h
	}
	change := func(id site.ID) site.DatedChange {
		return site.DatedChange{ID: id, Name: "Change", Mode: hours.Free, From: "2026-11-27T17:00", Until: "2026-11-27T21:00"}
	}
	byDoor, bySite, byFloor := change(60), change(61), change(62)
	byDoor.DoorIDs, bySite.SiteIDs, byFloor.FloorIDs = []site.ID{100, 200}, []site.ID{2}, []site.ID{11}
	door := func(id, floor, controller site.ID, port int) site.Door {
		return site.Door{
			ID: id, Name: "Door", Port: port, FloorID: floor, ControllerID: controller, PlanID: 7,
			Hardware: site.UsualHardware(),
		}
	}
	return &site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 1}, {ID: 2}},
		Floors:      []site.Floor{{ID: 10, SiteID: 1, Name: "Low"}, {ID: 11, SiteID: 1, Name: "High"}, {ID: 20, SiteID: 2}},
		Controllers: []site.Controller{{ID: 8, SiteID: 1}, {ID: 9, SiteID: 2}},
		Types:       []site.HolidayType{{ID: 5, Name: "Nobody", Plans: site.DefaultMode, Schedules: site.Closed}},
		Holidays:    []site.Holiday{day(50, 0, "2026-12-25"), day(51, 1, "2026-12-26"), day(52, 2, "2026-12-27")},
		Plans: []site.Plan{
			{
				ID:   7,
				Name: "Plan",
				Holidays: []site.PlanHoliday{
					{TypeID: 5, Do: site.OwnHours, Segments: []hours.Segment{{Period: hours.Period{Start: 0, End: 60}, Mode: hours.Barred}}},
				},
			},
		},
		Doors:   []site.Door{door(100, 10, 8, 1), door(101, 11, 8, 2), door(200, 20, 9, 1)},
		Changes: []site.DatedChange{byDoor, bySite, byFloor},
	}
}

func imageOf(c *site.Config, controller site.ID) *Image {
	return Build(c, controller, hours.Zone{Name: "UTC"}, Secrets{})
}

// An image holds the holidays of its own sites and the dated changes of its own doors, and no names.
func TestHoursInAnImage(t *testing.T) {
	a, b := imageOf(twoSites(), 8), imageOf(twoSites(), 9)
	ids := func(im *Image) (holidays, changes []site.ID) {
		for _, h := range im.Holidays {
			assert.Empty(t, h.Name)
			holidays = append(holidays, h.ID)
		}
		for _, x := range im.Changes {
			assert.Empty(t, x.Name)
			changes = append(changes, x.ID)
		}
		return holidays, changes
	}
	holidays, changes := ids(a)
	assert.Equal(t, []site.ID{50, 51}, holidays)
	assert.Equal(t, []site.ID{60, 62}, changes)
	assert.Equal(t, []site.ID{100}, a.Changes[0].DoorIDs, "only its own door of the two")
	holidays, changes = ids(b)
	assert.Equal(t, []site.ID{50, 52}, holidays)
	assert.Equal(t, []site.ID{60, 61}, changes)

	again, err := Parse(a.Bytes())
	require.NoError(t, err)
	assert.Equal(t, Hash(a.Bytes()), Hash(again.Bytes()))
	c := again.Compile()
	assert.Equal(t, hours.Barred, c.Lines[0].At(hours.Instant(int64(hours.DayOf(2026, 12, 26))*86400000)).Mode)
	assert.Equal(t, hours.Card, c.Lines[0].At(hours.Instant(int64(hours.DayOf(2026, 12, 27))*86400000)).Mode)
	assert.Equal(t, hours.Free, c.Lines[1].At(hours.Instant(int64(hours.DayOf(2026, 11, 27))*86400000+18*3600000)).Mode)
}

// Names, and moving a door to another floor of its site, change nothing at the controller; what does is said.
func TestHoursThatDiffer(t *testing.T) {
	was := imageOf(twoSites(), 8)
	same := twoSites()
	same.Types[0].Name, same.Holidays[0].Name, same.Changes[0].Name, same.Doors[0].FloorID = "Other", "Other", "Other", 11
	same.Changes[2].FloorIDs, same.Changes[2].DoorIDs = nil, []site.ID{101} // the same door by another way
	assert.Equal(t, Hash(was.Bytes()), Hash(imageOf(same, 8).Bytes()))
	names := Names{50: "Christmas", 51: "Boxing Day", 5: "Nobody", 62: "Late talk", 7: "Gallery", 100: "Gate"}
	for want, change := range map[string]func(c *site.Config){
		"Christmas: has other dates, type or hours":         func(c *site.Config) { c.Holidays[0].Days = 2 },
		"Boxing Day is no longer needed here":               func(c *site.Config) { c.Holidays = c.Holidays[:1] },
		"Nobody: means something else":                      func(c *site.Config) { c.Types[0].Schedules = site.AsWeekday },
		"Late talk: has other doors, dates or another mode": func(c *site.Config) { c.Changes[2].Mode = hours.Barred },
		"Gallery: asks for other things at other hours":     func(c *site.Config) { c.Plans[0].Holidays[0].Do = site.AsWeekday },
		"Gate: first card":                                  func(c *site.Config) { c.Doors[0].FirstCard = site.UsualFirstCard() },
	} {
		c := twoSites()
		change(c)
		got := Diff(was, imageOf(c, 8), names)
		require.Len(t, got, 1, want)
		assert.Equal(t, want, got[0].Words)
	}
}

func TestImageRefusesBrokenHours(t *testing.T) {
	for says, change := range map[string]func(im *Image){
		"plan 7":     func(im *Image) { im.Plans[0].Holidays[0].Segments[0].End = -1 },
		"holiday 50": func(im *Image) { im.Holidays[0].Kind = "never" },
	} {
		im := imageOf(twoSites(), 8)
		change(im)
		_, err := Parse(im.Bytes())
		assert.ErrorContains(t, err, says)
	}
}
