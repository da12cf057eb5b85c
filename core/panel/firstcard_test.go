package panel

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/access"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// gallery is a door that is free Tu-Su 10:00-12:00 and 13:00-17:00 once a first card has come, else on card. Card 1
// opens the day, cards 2 and 3 do not; card 3 counts only in the segment of Mo 10:00-11:00, where 2 does not.
func gallery(t require.TestingT, rule site.FirstCard, changes ...site.DatedChange) *Panel {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	zone := hours.ZoneFrom(loc, instant(t, "2026-01-01T00:00:00Z"), instant(t, "2028-01-01T00:00:00Z"))
	plan := hours.Pattern{}
	for d := 1; d < 7; d++ {
		plan.Paint(d, hours.Segment{Period: hours.Period{Start: 600, End: 720}, Mode: hours.Free, First: true})
		plan.Paint(d, hours.Segment{Period: hours.Period{Start: 780, End: 1020}, Mode: hours.Free, First: true})
	}
	plan.Paint(0, hours.Segment{Period: hours.Period{Start: 600, End: 660}, Mode: hours.Card, Levels: []int64{42}})
	door := site.Door{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, FloorID: 3, FirstCard: rule, Hardware: site.UsualHardware()}
	person := func(id site.ID, number uint64, level site.ID) site.Person {
		return site.Person{ID: id, Cards: []site.CardHeld{{Format: "26-bit", Facility: 42, Number: number, Status: site.Active}}, Levels: []site.Grant{{LevelID: level}}}
	}
	entry := []site.Entry{{DoorID: 1, ScheduleID: 30}}
	c := &site.Config{
		Settings: site.DefaultSettings(), Floors: []site.Floor{{ID: 3, SiteID: 2}}, Doors: []site.Door{door}, Plans: []site.Plan{{ID: 20, Pattern: plan}},
		Schedules: []site.Schedule{{ID: 30, Week: hours.Always(), Fixed: true}}, Changes: changes,
		Types:    []site.HolidayType{{ID: 50, Name: "Nobody", Plans: site.DefaultMode, Schedules: site.Closed}},
		Holidays: []site.Holiday{{ID: 51, TypeID: 50, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}}, End: 1440}},
		Levels:   []site.Level{{ID: 40, OpensDay: true, Entries: entry}, {ID: 41, Entries: entry}, {ID: 42, Entries: entry}},
		People:   []site.Person{person(101, 1, 40), person(102, 2, 41), person(103, 3, 42)},
	}
	return New(image.Build(c, 9, zone, image.Secrets{}).Compile(), 0)
}

// story plays reads and looks at a door: lines such as "Tue 09:00 card 2" or "Tue 10:00 asks" of the week of
// 2026-11-24.
func story(t *testing.T, p *Panel, lines ...string) {
	monday := hours.DayOf(2026, 11, 23)
	zone := p.c.Zone
	p.Start(zone.Resolve(monday, 0))
	for i := 0; i < len(lines); i += 2 {
		var day, clock, what string
		var n uint64
		_, err := fmt.Sscan(lines[i], &day, &clock, &what, &n)
		if err != nil {
			_, err = fmt.Sscan(lines[i], &day, &clock, &what)
		}
		require.NoError(t, err, lines[i])
		hm, err := time.Parse("15:04", clock)
		require.NoError(t, err)
		d := monday
		for hours.WeekdayNames[d.Weekday()][:3] != day {
			d++
		}
		now := zone.Resolve(d, hm.Hour()*60+hm.Minute())
		got := ""
		switch what {
		case "card":
			for _, e := range p.Step(now, Input{Kind: CardRead, Port: 1, Bits: bits(t, n)}).Events {
				if e.Kind == Granted || e.Kind == Refused {
					got = e.Reason.String()
				}
				if e.Kind == FirstCard {
					got += " first"
				}
			}
		case "asks":
			p.Step(now, Input{})
			got = p.Doors()[0].Mode.String()
			if p.Doors()[0].Waits {
				got += " waits"
			}
		}
		assert.Equal(t, lines[i+1], got, lines[i])
	}
}

func TestFirstCardUsual(t *testing.T) {
	story(t, gallery(t, site.UsualFirstCard()),
		"Tue 09:59 asks", "card", "Tue 10:00 asks", "card waits", "Tue 10:05 card 2", "granted first", "Tue 10:05 asks", "free",
		"Tue 11:59 asks", "free", "Tue 12:00 asks", "card", "Tue 13:00 asks", "card waits", // each segment wants its own
		"Tue 13:30 card 1", "granted first", "Tue 16:59 asks", "free", "Tue 17:00 asks", "card",
		"Wed 10:00 asks", "card waits", // forgotten
	)
}

func TestFirstCardOpenersEarly(t *testing.T) {
	rule := site.FirstCard{Who: site.Openers, Counts: site.FromMinutes, Before: 90, UntilThen: site.NobodyElse, Often: site.OnceADay, Length: site.ToTheEnd, Minutes: 10}
	story(t, gallery(t, rule),
		"Tue 08:29 card 1", "granted", // too early to count
		"Tue 08:29 card 2", "granted", // and others still come in
		"Tue 08:30 card 2", "awaiting-first-card", "Tue 08:31 card 1", "granted first", "Tue 08:32 card 2", "granted",
		"Tue 09:59 asks", "card", "Tue 10:00 asks", "free", "Tue 12:00 asks", "card", "Tue 13:00 asks", "free", // once a day
		"Wed 09:00 card 2", "awaiting-first-card", "Wed 10:00 asks", "card waits", "Wed 11:00 card 1", "granted first", "Wed 11:00 asks", "free",
	)
}

func TestFirstCardMinutes(t *testing.T) {
	rule := site.FirstCard{Who: site.Anybody, Counts: site.FromMidnight, UntilThen: site.CardAsUsual, Often: site.OnceADay, Length: site.ForMinutes, Minutes: 10}
	story(t, gallery(t, rule),
		"Mon 07:00 card 1", "granted first", "Mon 07:09 asks", "free", "Mon 07:10 asks", "card", "Mon 08:00 card 2", "granted", // a day without free hours
		"Tue 08:00 card 1", "granted first", "Tue 09:00 asks", "card", // counts for the segment to come
		"Tue 10:00 asks", "free", "Tue 10:10 asks", "card", "Tue 13:00 asks", "card",
	)
}

// Holidays and dated changes come before the first card; a segment may be limited to levels.
func TestFirstCardAmongLayers(t *testing.T) {
	evening := site.DatedChange{ID: 60, Mode: hours.Free, DoorIDs: []site.ID{1}, From: "2026-11-27T16:00", Until: "2026-11-27T21:30"}
	story(t, gallery(t, site.UsualFirstCard(), evening),
		"Mon 10:30 card 2", "segment-limit", "Mon 10:30 card 3", "granted", "Mon 11:00 card 2", "granted",
		"Thu 10:00 asks", "card", "Thu 10:30 card 1", "granted", "Thu 10:30 asks", "card", // a holiday: no free segment, so nothing to open
		"Fri 10:00 asks", "card waits", "Fri 16:00 asks", "free", "Fri 21:29 asks", "free", "Fri 21:30 asks", "card",
	)
}

// The clocks change: a night's segment is right on both sides, and the first card is forgotten at midnight.
func TestFirstCardOverMidnightAndClockChange(t *testing.T) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	zone := hours.ZoneFrom(loc, instant(t, "2026-01-01T00:00:00Z"), instant(t, "2028-01-01T00:00:00Z"))
	plan := hours.Pattern{}
	plan.Paint(5, hours.Segment{Period: hours.Period{Start: 1320, End: 1440 + 150}, Mode: hours.Free, First: true}) // Sa 22:00-02:30
	c := &site.Config{
		Settings: site.DefaultSettings(), Doors: []site.Door{{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, FirstCard: site.UsualFirstCard(), Hardware: site.UsualHardware()}},
		Plans: []site.Plan{{ID: 20, Pattern: plan}}, Schedules: []site.Schedule{{ID: 30, Week: hours.Always()}}, Levels: []site.Level{{ID: 40, Entries: []site.Entry{{DoorID: 1, ScheduleID: 30}}}},
		People: []site.Person{{ID: 101, Cards: []site.CardHeld{{Format: "26-bit", Facility: 42, Number: 1, Status: site.Active}}, Levels: []site.Grant{{LevelID: 40}}}},
	}
	p := New(image.Build(c, 9, zone, image.Secrets{}).Compile(), 0)
	at := func(s string) hours.Instant { return instant(t, s) }
	p.Start(at("2026-10-31T20:00:00-03:00"))
	p.Step(at("2026-10-31T22:05:00-03:00"), Input{Kind: CardRead, Port: 1, Bits: bits(t, 1)})
	assert.Equal(t, hours.Free, p.Doors()[0].Mode)
	p.Step(at("2026-11-01T00:00:00-03:00"), Input{})
	assert.True(t, p.Doors()[0].Waits, "forgotten at local midnight")
	p.Step(at("2026-11-01T00:30:00-03:00"), Input{Kind: CardRead, Port: 1, Bits: bits(t, 1)})
	for _, s := range []string{"2026-11-01T01:59:00-03:00", "2026-11-01T01:00:00-04:00", "2026-11-01T02:29:00-04:00"} {
		p.Step(at(s), Input{})
		assert.Equal(t, hours.Free, p.Doors()[0].Mode, s)
	}
	p.Step(at("2026-11-01T02:30:00-04:00"), Input{})
	assert.Equal(t, hours.Card, p.Doors()[0].Mode)
	// In spring 02:30 does not exist: the segment ends when the clock jumps past it.
	p.Step(at("2027-03-13T22:05:00-04:00"), Input{Kind: CardRead, Port: 1, Bits: bits(t, 1)})
	p.Step(at("2027-03-14T00:05:00-04:00"), Input{Kind: CardRead, Port: 1, Bits: bits(t, 1)})
	p.Step(at("2027-03-14T01:59:00-04:00"), Input{})
	assert.Equal(t, hours.Free, p.Doors()[0].Mode)
	p.Step(at("2027-03-14T03:00:00-03:00"), Input{})
	assert.Equal(t, hours.Card, p.Doors()[0].Mode)
}

// Whatever the rule: a waiting door never goes free but by a granted read of that day, asks its wake instant for
// instant, and is never free where its plan is not and no minutes run.
func TestFirstCardNeverOpensByItself(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rule := site.FirstCard{
			Who: rapid.SampledFrom([]string{site.Anybody, site.Openers}).Draw(t, "who"), Counts: rapid.SampledFrom([]string{site.FromStart, site.FromMinutes, site.FromMidnight}).Draw(t, "counts"),
			Before: rapid.IntRange(0, 120).Draw(t, "before"), UntilThen: rapid.SampledFrom([]string{site.CardAsUsual, site.NobodyElse}).Draw(t, "until"),
			Often: rapid.SampledFrom([]string{site.EachSegment, site.OnceADay}).Draw(t, "often"), Length: rapid.SampledFrom([]string{site.ToTheEnd, site.ForMinutes}).Draw(t, "length"), Minutes: rapid.IntRange(1, 90).Draw(t, "minutes"),
		}
		p := gallery(t, rule)
		now := p.c.Zone.Resolve(hours.DayOf(2026, 11, 23), 0)
		p.Start(now)
		given := hours.Day(-1)
		for range rapid.IntRange(1, 60).Draw(t, "steps") {
			now = now.Add(time.Duration(rapid.IntRange(1, 200).Draw(t, "minutes on")) * time.Minute)
			in := Input{}
			if rapid.Bool().Draw(t, "card") {
				in = Input{Kind: CardRead, Port: 1, Bits: bits(t, uint64(rapid.IntRange(1, 2).Draw(t, "which")))}
			}
			for _, e := range p.Step(now, in).Events {
				w := p.c.Zone.Wall(e.At)
				if e.Kind == FirstCard {
					given = w.Day
					require.True(t, rule.Who == site.Anybody || e.Person == 101)
				}
				if e.Kind == ModeNow && e.Mode == hours.Free {
					require.Equal(t, given, w.Day, "free at %s without a first card that day", p.c.Zone.Time(e.At))
				}
				require.NotEqual(t, access.NoReason, map[bool]access.Reason{true: e.Reason, false: access.Granted}[e.Kind == Granted || e.Kind == Refused])
			}
			m := p.c.Lines[0].At(now)
			if p.Doors()[0].Mode == hours.Free && rule.Length == site.ToTheEnd {
				require.True(t, m.First, "free outside the plan's free hours")
			}
		}
	})
}
