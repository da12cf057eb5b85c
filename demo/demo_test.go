package demo_test

import (
	"testing"
	"time"
	_ "time/tzdata"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/review"
	"amberkeystone/core/site"
	"amberkeystone/demo"
	"amberkeystone/formats/sitefile"
)

// The museum is what the design's section 7 says, in numbers.
func TestMuseum(t *testing.T) {
	c, err := sitefile.Parse(demo.Site, []byte("key"))
	require.NoError(t, err)
	assert.Equal(t, "Merrow Point Museum", c.Settings.Name)
	assert.Len(t, c.Sites, 2)
	assert.Equal(t, "America/Halifax", c.Sites[0].Zone)
	assert.Equal(t, "America/St_Johns", c.Sites[1].Zone)
	assert.InDelta(t, 20, len(c.Doors)-len(c.Cars()), 3)
	assert.Len(t, c.Cars(), 2)
	assert.Len(t, c.Controllers, 6)
	assert.Len(t, c.People, 60)
	assert.Len(t, c.Levels, 12)
	assert.Len(t, c.Types, 3)
	assert.GreaterOrEqual(t, len(c.Schedules), 6+2)
	assert.GreaterOrEqual(t, len(c.Plans), 5)
	from := hours.DayOf(2027, 1, 1)
	n := 0
	for i := range c.Holidays {
		n += len(c.Holidays[i].Between(from, from+365))
	}
	assert.Greater(t, n, 12, "a year of holidays")
}

// Its honest mistakes, so that findings have something to say, and no others.
func TestHonestMistakes(t *testing.T) {
	c, err := sitefile.Parse(demo.Site, []byte("key"))
	require.NoError(t, err)
	zones := map[site.ID]*hours.Zone{}
	now := hours.At(time.Date(2026, 11, 23, 22, 0, 0, 0, time.UTC))
	for _, x := range c.Controllers {
		loc, err := time.LoadLocation(x.Zone)
		require.NoError(t, err)
		z := hours.ZoneFrom(loc, now-400*86400000, now+900*86400000)
		zones[x.ID] = &z
	}
	zone := func(id site.ID) *hours.Zone { return zones[id] }
	var got []string
	for _, f := range review.Hours(c, site.NewTimetable(c, zone), zone, now) {
		got = append(got, f.Code+" "+f.Name)
	}
	assert.ElementsMatch(t, []string{
		"plan-silent Loading dock", "plan-silent Boathouse yard", "plan-silent Lookout terrace",
		"changes-overlap Members’ night", "change-on-holiday Lantern evening", "schedule-unused Summer lectures",
		"change-past Autumn fair", "holiday-nothing Regatta Day", "night-cut Staff doors",
	}, got)
}

// What the museum's doors do on days that people will ask about.
func TestDaysOfTheMuseum(t *testing.T) {
	c, err := sitefile.Parse(demo.Site, []byte("key"))
	require.NoError(t, err)
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	z := hours.ZoneFrom(loc, hours.At(time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2029, 1, 1, 0, 0, 0, 0, time.UTC)))
	times := site.NewTimetable(c, func(site.ID) *hours.Zone { return &z })
	door := map[string]site.ID{}
	for _, d := range c.Doors {
		door[d.Name] = d.ID
	}
	for _, x := range []struct {
		door, when string
		mode       hours.Mode
		first      bool
	}{
		{"Quay entrance", "2026-11-24T11:00", hours.Free, true},
		{"Quay entrance", "2026-11-26T11:00", hours.Card, false},   // Founders' Day
		{"Quay entrance", "2026-11-27T18:00", hours.Free, false},   // Lantern evening
		{"Tide hall", "2026-11-27T20:30", hours.Card, false},       // members only, made later
		{"Quay entrance", "2026-12-24T13:59", hours.Free, true},    // a short day
		{"Quay entrance", "2026-12-24T14:00", hours.Card, false},   //
		{"Quay entrance", "2026-12-25T11:00", hours.Barred, false}, // nobody
		{"Staff entrance", "2026-12-26T11:00", hours.CardAndPIN, false},
		{"Loading dock", "2026-12-24T11:00", hours.Free, false}, // the honest mistake: its plan has no answer for a short day
		{"Quay entrance", "2026-12-31T13:00", hours.Free, true},
		{"Quay entrance", "2026-12-31T15:00", hours.Card, false}, // from 14:00 on only
	} {
		d, m, err := site.ParseWall(x.when)
		require.NoError(t, err)
		got := times.Door(door[x.door]).At(z.Resolve(d, m))
		assert.Equal(t, x.mode, got.Mode, "%s %s", x.door, x.when)
		assert.Equal(t, x.first, got.First, "%s %s", x.door, x.when)
	}
}
