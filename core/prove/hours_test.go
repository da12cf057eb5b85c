package prove

import (
	"testing"
	"time"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// layered is a door with everything laid over each other: a plan that waits for a first card, a holiday, half a
// holiday, a dated change; and two levels, one of which counts over noon.
func layered(t *testing.T) *Book {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	zone := hours.ZoneFrom(loc, at(t, "2026-01-01T00:00:00Z"), at(t, "2029-01-01T00:00:00Z"))
	plan := hours.Pattern{}
	for d := 1; d < 7; d++ {
		plan.Paint(d, hours.Segment{Period: hours.Period{Start: 600, End: 1020}, Mode: hours.Free, First: true})
	}
	plan.Paint(0, hours.Segment{Period: hours.Period{Start: 720, End: 780}, Mode: hours.Card, Levels: []int64{41}})
	held := func(level site.ID) []site.Grant { return []site.Grant{{LevelID: level}} }
	card := func(n uint64) []site.Credential {
		return []site.Credential{site.NewCard("26-bit", 42, n)}
	}
	on := func(id site.ID, name string, kind site.ID, date string, start, end int) site.Holiday {
		return site.Holiday{
			ID:           id,
			Name:         name,
			TypeID:       kind,
			HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{date}},
			Start:        start,
			End:          end,
		}
	}
	var office hours.Week
	for d := range 5 {
		office[d] = []hours.Period{{Start: 480, End: 1080}}
	}
	return NewBook(&site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 2, Name: "House"}},
		Floors: []site.Floor{{ID: 3, SiteID: 2}},
		Types: []site.HolidayType{
			{ID: 10, Name: "Cards only", Rank: 1, Plans: site.DefaultMode, Schedules: site.AsWeekday},
			{ID: 11, Name: "Nobody", Rank: 2, Plans: site.DefaultMode, Schedules: site.Closed},
		},
		Holidays: []site.Holiday{
			on(12, "Founders’ Day", 10, "2026-11-26", 0, 1440),
			on(13, "Half day", 11, "2026-11-27", 840, 1440),
			on(14, "Market", 10, "2026-11-27", 0, 1440),
		},
		Doors: []site.Door{
			{
				ID:           1,
				Name:         "Quay entrance",
				Port:         1,
				FloorID:      3,
				ControllerID: 9,
				PlanID:       20,
				FirstCard:    site.FirstCard{Who: site.Openers},
				Hardware:     site.UsualHardware(),
			},
		},
		Plans: []site.Plan{{ID: 20, Name: "Public", Pattern: plan}},
		Schedules: []site.Schedule{
			{ID: 30, Name: "Office", Week: office}, {ID: 31, Name: "Always", Week: hours.Always(), Fixed: true},
		},
		Levels: []site.Level{
			{ID: 40, Name: "Staff", Entries: []site.Entry{site.At(1, 30)}},
			{ID: 41, Name: "Registrars", Entries: []site.Entry{site.At(1, 31)}},
		},
		People: []*site.Person{
			{ID: 50, Name: "Tomas", Credentials: card(1), Levels: held(40)},
			{ID: 51, Name: "Ines", Credentials: card(2), Levels: held(41)},
		},
		Changes: []site.DatedChange{
			{ID: 60, Name: "Lantern evening", Mode: hours.Free, DoorIDs: []site.ID{1}, From: "2026-11-28T16:00", Until: "2026-11-28T21:30"},
		},
	}, map[site.ID]hours.Zone{9: zone})
}

func decides(n Now) string {
	for _, l := range n.Layers {
		if l.Decides {
			return l.Name + ": " + l.Words
		}
	}
	return ""
}

func TestNowThroughTheLayers(t *testing.T) {
	b := layered(t)
	for _, c := range []struct{ when, sentence, decides string }{
		{"2026-11-24T10:30:00-04:00", "A **card** is needed now, and waits for its first card to go **free**, until **17:00**; then a **card** is needed until **tomorrow 10:00**.", "Plan, week: Public · free after a first card until 17:00"},
		{"2026-11-24T08:00:00-04:00", "A **card** is needed now, until **10:00**; then it goes **free**, once somebody who opens the day has come in, until **17:00**.", "Plan, otherwise: Public · card"},
		{"2026-11-26T10:30:00-04:00", "A **card** is needed now, because of **Founders’ Day**, until **Sat 10:00**; then it goes **free**, once somebody who opens the day has come in, until **Sat 16:00**.", "Holiday: Founders’ Day · card"},
		{"2026-11-27T15:00:00-04:00", "A **card** is needed now, because of **Half day**, until **tomorrow 10:00**; then it goes **free**, once somebody who opens the day has come in, until **tomorrow 16:00**.", "Holiday: Half day 14:00-24:00, Market · card"},
		{"2026-11-28T16:30:00-04:00", "The door is **free** now for **Lantern evening**, until **21:30**; then a **card** is needed until **tomorrow 10:00**.", "Dated change: Lantern evening · free until 21:30"},
	} {
		n := b.Now(1, at(t, c.when), nil)
		assert.Equal(t, c.sentence, n.Sentence, c.when)
		assert.Equal(t, c.decides, decides(n), c.when)
	}
	n := b.Now(1, at(t, "2026-11-24T10:30:00-04:00"), &Live{Mode: hours.Free})
	assert.Contains(t, n.Sentence, "The door is **free** now, since its first card has come, until **17:00**")
	assert.False(t, n.Waits)
	b.doors[1].FirstCard.Length = site.ForMinutes
	n = b.Now(1, at(t, "2026-11-23T07:05:00-04:00"), &Live{Mode: hours.Free, Until: at(t, "2026-11-23T07:10:00-04:00")})
	assert.Equal(t,
		"The door is **free** now, since its first card has come, until **07:10**; then a **card** is needed until **12:00**.", n.Sentence)
	n = b.Now(1, at(t, "2026-11-23T11:00:00-04:00"), nil)
	assert.Equal(t,
		"A **card** is needed now, until **12:00**; then a **card** is needed, of the level **Registrars** only, until **13:00**.", n.Sentence)
	n = b.Now(1, at(t, "2026-11-23T12:30:00-04:00"), nil)
	assert.Contains(t, decides(n), "only Registrars")
	n = b.Now(1, at(t, "2026-11-27T20:00:00-04:00"), nil)
	assert.True(t, n.Layers[0].Next)
	assert.Equal(t, "Lantern evening · starts tomorrow 16:00", n.Layers[0].Words)
}

func TestAskAmongTheLayers(t *testing.T) {
	b := layered(t)
	for _, c := range []struct {
		who    site.ID
		when   string
		reason pass.Reason
		says   string
	}{
		{50, "2026-11-23T12:30:00-04:00", pass.SegmentLimit, "Staff does not count at this hour; only Registrars"},
		{51, "2026-11-23T12:30:00-04:00", pass.Granted, "Always is open"},
		{50, "2026-11-26T12:30:00-04:00", pass.Granted, "Office is open"},                                       // a holiday for doors only
		{50, "2026-11-27T15:00:00-04:00", pass.OutsideHours, "Office: Fri (Half day) 08:00-14:00; it is 15:00"}, // half a holiday for nobody
		{51, "2026-11-27T15:00:00-04:00", pass.Granted, "Always is open"},                                       // Always is always
		{50, "2026-11-29T11:00:00-04:00", pass.OutsideHours, "Office: closed on Sun; it is 11:00"},              //
		{50, "2026-11-28T16:30:00-04:00", pass.GrantedFree, "free (Lantern evening, until 21:30)"},              //
		{50, "2026-11-24T11:00:00-04:00", pass.Granted, "card (Public, after a first card, until 17:00)"},       //
	} {
		a, err := b.Ask(c.who, 1, at(t, c.when))
		require.NoError(t, err)
		assert.Equal(t, c.reason, a.Reason, c.when)
		all := ""
		for _, l := range a.Trace {
			all += l.Words + "\n"
		}
		assert.Contains(t, all, c.says, c.when)
	}
	b = layered(t)
	b.doors[1].FirstCard.UntilThen = site.NobodyElse
	a, err := b.Ask(50, 1, at(t, "2026-11-24T11:00:00-04:00"))
	require.NoError(t, err)
	assert.Equal(t, pass.AwaitingFirstCard, a.Reason)
	assert.Contains(t, a.Mend, "opens the day")
}

func TestRealWeekShowsAll(t *testing.T) {
	b := layered(t)
	week := b.RealWeek(1, hours.DayOf(2026, 11, 23))
	mark := func(day, minute int) Mark {
		for _, m := range week[day].Marks {
			if m.Start <= minute && minute < m.End {
				return m
			}
		}
		return Mark{}
	}
	assert.Equal(t, "Registrars", mark(0, 750).Only)
	assert.True(t, mark(1, 700).First)
	assert.Equal(t, Mark{Start: 0, End: 1440, Mode: hours.Card, Holiday: true}, mark(3, 700))
	require.Len(t, week[4].Holidays, 2)
	assert.Equal(t, "Half day 14:00-24:00", week[4].Holidays[0].Name, "the higher rank first")
	assert.Equal(t, "Nobody", week[4].Holidays[0].Type)
	assert.Equal(t, Mark{Start: 960, End: 1290, Mode: hours.Free, Change: 60, Name: "Lantern evening"}, mark(5, 1000))

	// The hour that does not exist is a gap, the one that comes twice is there twice, and both are said.
	week = b.RealWeek(1, hours.DayOf(2027, 3, 8))
	assert.Equal(t, "clocks go forward, 02:00 becomes 03:00", week[6].Clocks)
	assert.Equal(t, 120, week[6].Marks[0].End)
	assert.Equal(t, 180, week[6].Marks[1].Start)
	week = b.RealWeek(1, hours.DayOf(2027, 11, 1))
	assert.Equal(t, "clocks go back, 02:00 becomes 01:00", week[6].Clocks)
	assert.Equal(t, 120, week[6].Marks[0].End)
	assert.Equal(t, 60, week[6].Marks[1].Start)
}

// A moment that the clocks leave out is told, and so is one that comes twice (design 3.1).
func TestMomentsWhenClocksChange(t *testing.T) {
	b := layered(t)
	for _, c := range []struct {
		day     hours.Day
		minute  int
		at, odd string
	}{
		{hours.DayOf(2027, 3, 14), 150, "2027-03-14T06:30:00Z", "02:30 does not exist on Sun 14 Mar 2027, when the clocks go forward; 03:30 is shown"},
		{hours.DayOf(2027, 3, 14), 119, "2027-03-14T05:59:00Z", ""},
		{hours.DayOf(2027, 3, 14), 180, "2027-03-14T06:00:00Z", ""},
		{hours.DayOf(2027, 11, 7), 90, "2027-11-07T04:30:00Z", "01:30 comes twice on Sun 7 Nov 2027, when the clocks go back; the first is shown, and hours hold both times"},
		{hours.DayOf(2027, 11, 7), 59, "2027-11-07T03:59:00Z", ""},
		{hours.DayOf(2027, 11, 7), 120, "2027-11-07T06:00:00Z", ""},
		{hours.DayOf(2027, 7, 1), 720, "2027-07-01T15:00:00Z", ""},
	} {
		at, odd := b.Moment(1, c.day, c.minute)
		assert.Equal(t, c.at, at.Time().Format(time.RFC3339))
		assert.Equal(t, c.odd, odd)
	}
}
