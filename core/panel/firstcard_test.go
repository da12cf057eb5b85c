package panel

import (
	"testing"
	"time"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

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
	door := site.Door{
		ID: 1, Port: 1, ControllerID: 9, PlanID: 20, FloorID: 3, FirstCard: rule, Hardware: site.UsualHardware(),
	}
	person := func(id site.ID, number uint64, level site.ID) *site.Person {
		return &site.Person{
			ID: id, Credentials: []site.Credential{site.NewCard("26-bit", 42, number)}, Levels: []site.Grant{{LevelID: level}},
		}
	}
	entry := []site.Entry{site.At(1, 30)}
	c := &site.Config{
		Settings: site.DefaultSettings(), Floors: []site.Floor{{ID: 3, SiteID: 2}}, Doors: []site.Door{door},
		Plans:     []site.Plan{{ID: 20, Pattern: plan}},
		Schedules: []site.Schedule{{ID: 30, Week: hours.Always(), Fixed: true}}, Changes: changes,
		Types: []site.HolidayType{{ID: 50, Name: "Nobody", Plans: site.DefaultMode, Schedules: site.Closed}},
		Holidays: []site.Holiday{
			{ID: 51, TypeID: 50, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}},
				End: 1440},
		},
		Levels: []site.Level{
			{ID: 40, Authorities: site.Authorities{OpensDay: true}, Entries: entry}, {ID: 41, Entries: entry},
			{ID: 42, Entries: entry},
		},
		People: []*site.Person{person(101, 1, 40), person(102, 2, 41), person(103, 3, 42)},
	}
	return New(image.Build(c, 9, zone, image.Secrets{}).Compile(), 0)
}

// step is a look at a door, or a card read there, in the week of 2026-11-24: what it asks, or what the card is told.
type step struct {
	at   string // Tue 09:00
	card uint64 // 0: only a look
	asks string // the mode, and waits
	says string // the reason, and first
}

// story plays steps.
func story(t *testing.T, p *Panel, steps ...step) {
	monday := hours.DayOf(2026, 11, 23)
	zone := p.c.Zone
	p.Start(zone.Resolve(monday, 0))
	for _, s := range steps {
		when, err := time.Parse("Mon 15:04", s.at)
		require.NoError(t, err)
		d := monday
		for hours.WeekdayNames[d.Weekday()][:3] != s.at[:3] {
			d++
		}
		now := zone.Resolve(d, when.Hour()*60+when.Minute())
		if s.card == 0 {
			p.Step(now, Input{})
			assert.Equal(t, s.asks, asksNow(p), s.at)
			continue
		}
		says := ""
		for _, e := range p.Step(now, reads(1, bits(t, s.card))).Events {
			switch e.Kind {
			case pass.WasGranted, pass.WasRefused:
				says = e.Reason.String()
			case pass.FirstCard:
				says += " first"
			}
		}
		assert.Equal(t, s.says, says, "%s, card %d", s.at, s.card)
	}
}

// asksNow is what the first door asks, and whether it waits.
func asksNow(p *Panel) string {
	d := p.Doors()[0]
	if d.Waits {
		return d.Mode.String() + " waits"
	}
	return d.Mode.String()
}

func TestFirstCardUsual(t *testing.T) {
	story(t, gallery(t, site.UsualFirstCard()),
		step{at: "Tue 09:59", asks: "card"},
		step{at: "Tue 10:00", asks: "card waits"},
		step{at: "Tue 10:05", card: 2, says: "granted first"},
		step{at: "Tue 10:05", asks: "free"},
		step{at: "Tue 11:59", asks: "free"},
		step{at: "Tue 12:00", asks: "card"},
		step{at: "Tue 13:00", asks: "card waits"}, // each segment wants its own
		step{at: "Tue 13:30", card: 1, says: "granted first"},
		step{at: "Tue 16:59", asks: "free"},
		step{at: "Tue 17:00", asks: "card"},
		step{at: "Wed 10:00", asks: "card waits"}, // forgotten
	)
}

func TestFirstCardOpenersEarly(t *testing.T) {
	rule := site.FirstCard{
		Who:       site.Openers,
		Counts:    site.FromMinutes,
		Before:    90,
		UntilThen: site.NobodyElse,
		Often:     site.OnceADay,
		Length:    site.ToTheEnd,
		Minutes:   10,
	}
	story(t, gallery(t, rule),
		step{at: "Tue 08:29", card: 1, says: "granted"}, // too early to count
		step{at: "Tue 08:29", card: 2, says: "granted"}, // and others still come in
		step{at: "Tue 08:30", card: 2, says: "awaiting-first-card"},
		step{at: "Tue 08:31", card: 1, says: "granted first"},
		step{at: "Tue 08:32", card: 2, says: "granted"},
		step{at: "Tue 09:59", asks: "card"},
		step{at: "Tue 10:00", asks: "free"},
		step{at: "Tue 12:00", asks: "card"},
		step{at: "Tue 13:00", asks: "free"}, // once a day
		step{at: "Wed 09:00", card: 2, says: "awaiting-first-card"},
		step{at: "Wed 10:00", asks: "card waits"},
		step{at: "Wed 11:00", card: 1, says: "granted first"},
		step{at: "Wed 11:00", asks: "free"},
	)
}

func TestFirstCardMinutes(t *testing.T) {
	rule := site.FirstCard{
		Who:       site.Anybody,
		Counts:    site.FromMidnight,
		UntilThen: site.CardAsUsual,
		Often:     site.OnceADay,
		Length:    site.ForMinutes,
		Minutes:   10,
	}
	story(t, gallery(t, rule),
		step{at: "Mon 07:00", card: 1, says: "granted first"},
		step{at: "Mon 07:09", asks: "free"},
		step{at: "Mon 07:10", asks: "card"},
		step{at: "Mon 08:00", card: 2, says: "granted"}, // a day without free hours
		step{at: "Tue 08:00", card: 1, says: "granted first"},
		step{at: "Tue 09:00", asks: "card"}, // counts for the segment to come
		step{at: "Tue 10:00", asks: "free"},
		step{at: "Tue 10:10", asks: "card"},
		step{at: "Tue 13:00", asks: "card"},
	)
}

// Holidays and dated changes come before the first card; a segment may be limited to levels.
func TestFirstCardAmongLayers(t *testing.T) {
	evening := site.DatedChange{
		ID: 60, Mode: hours.Free, DoorIDs: []site.ID{1}, From: "2026-11-27T16:00", Until: "2026-11-27T21:30",
	}
	story(t, gallery(t, site.UsualFirstCard(), evening),
		step{at: "Mon 10:30", card: 2, says: "segment-limit"},
		step{at: "Mon 10:30", card: 3, says: "granted"},
		step{at: "Mon 11:00", card: 2, says: "granted"},
		step{at: "Thu 10:00", asks: "card"},
		step{at: "Thu 10:30", card: 1, says: "granted"},
		step{at: "Thu 10:30", asks: "card"}, // a holiday: no free segment, so nothing to open
		step{at: "Fri 10:00", asks: "card waits"},
		step{at: "Fri 16:00", asks: "free"},
		step{at: "Fri 21:29", asks: "free"},
		step{at: "Fri 21:30", asks: "card"},
	)
}

// The clocks change: a night's segment is right on both sides, and the first card is forgotten at midnight.
func TestFirstCardOverMidnightAndClockChange(t *testing.T) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	zone := hours.ZoneFrom(loc, instant(t, "2026-01-01T00:00:00Z"), instant(t, "2028-01-01T00:00:00Z"))
	plan := hours.Pattern{}
	// Sa 22:00-02:30
	plan.Paint(5, hours.Segment{Period: hours.Period{Start: 1320, End: 1440 + 150}, Mode: hours.Free, First: true})
	c := &site.Config{
		Settings: site.DefaultSettings(), Doors: []site.Door{
			{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, FirstCard: site.UsualFirstCard(), Hardware: site.UsualHardware()},
		},
		Plans: []site.Plan{
			{ID: 20, Pattern: plan},
		}, Schedules: []site.Schedule{{ID: 30, Week: hours.Always()}},
		Levels: []site.Level{{ID: 40, Entries: []site.Entry{site.At(1, 30)}}},
		People: []*site.Person{
			{ID: 101, Credentials: []site.Credential{site.NewCard("26-bit", 42, 1)}, Levels: []site.Grant{{LevelID: 40}}},
		},
	}
	p := New(image.Build(c, 9, zone, image.Secrets{}).Compile(), 0)
	at := func(s string) hours.Instant { return instant(t, s) }
	p.Start(at("2026-10-31T20:00:00-03:00"))
	p.Step(at("2026-10-31T22:05:00-03:00"), reads(1, bits(t, 1)))
	assert.Equal(t, hours.Free, p.Doors()[0].Mode)
	p.Step(at("2026-11-01T00:00:00-03:00"), Input{})
	assert.True(t, p.Doors()[0].Waits, "forgotten at local midnight")
	p.Step(at("2026-11-01T00:30:00-03:00"), reads(1, bits(t, 1)))
	for _, s := range []string{"2026-11-01T01:59:00-03:00", "2026-11-01T01:00:00-04:00", "2026-11-01T02:29:00-04:00"} {
		p.Step(at(s), Input{})
		assert.Equal(t, hours.Free, p.Doors()[0].Mode, s)
	}
	p.Step(at("2026-11-01T02:30:00-04:00"), Input{})
	assert.Equal(t, hours.Card, p.Doors()[0].Mode)
	// In spring 02:30 does not exist: the segment ends when the clock jumps past it.
	p.Step(at("2027-03-13T22:05:00-04:00"), reads(1, bits(t, 1)))
	p.Step(at("2027-03-14T00:05:00-04:00"), reads(1, bits(t, 1)))
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
			Who: rapid.SampledFrom([]site.FirstGiver{site.Anybody, site.Openers}).
				Draw(t, "who"),
			Counts:    rapid.SampledFrom([]site.CountsFrom{site.FromStart, site.FromMinutes, site.FromMidnight}).Draw(t, "counts"),
			Before:    rapid.IntRange(0, 120).Draw(t, "before"),
			UntilThen: rapid.SampledFrom([]site.UntilFirst{site.CardAsUsual, site.NobodyElse}).Draw(t, "until"),
			Often: rapid.SampledFrom([]site.HowOften{site.EachSegment, site.OnceADay}).
				Draw(t, "often"),
			Length:  rapid.SampledFrom([]site.HowLong{site.ToTheEnd, site.ForMinutes}).Draw(t, "length"),
			Minutes: rapid.IntRange(1, 90).Draw(t, "minutes"),
		}
		p := gallery(t, rule)
		now := p.c.Zone.Resolve(hours.DayOf(2026, 11, 23), 0)
		p.Start(now)
		given := hours.Day(-1)
		for range rapid.IntRange(1, 60).Draw(t, "steps") {
			now = now.Add(time.Duration(rapid.IntRange(1, 200).Draw(t, "minutes on")) * time.Minute)
			in := Input{}
			if rapid.Bool().Draw(t, "card") {
				in = reads(1, bits(t, uint64(rapid.IntRange(1, 2).Draw(t, "which"))))
			}
			for _, e := range p.Step(now, in).Events {
				w := p.c.Zone.Wall(e.At)
				if e.Kind == pass.FirstCard {
					given = w.Day
					require.True(t, rule.Who == site.Anybody || e.Person == 101)
				}
				if e.Kind == pass.ModeNow && e.Mode == hours.Free {
					require.Equal(t, given, w.Day, "free at %s without a first card that day", p.c.Zone.Time(e.At))
				}
				if e.Kind == pass.WasGranted || e.Kind == pass.WasRefused {
					require.NotEqual(t, pass.NoReason, e.Reason)
				}
			}
			m := p.c.Lines[0].At(now)
			if p.Doors()[0].Mode == hours.Free && rule.Length == site.ToTheEnd {
				require.True(t, m.First, "free outside the plan's free hours")
			}
		}
	})
}
