package panel

import (
	"testing"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
)

// common practice: what installers expect of holidays, played in whole days at a door that goes free from 08:00 to
// 17:00, with staff in office hours and cleaners whose schedule runs on.
func TestHolidaysInCommonPractice(t *testing.T) {
	base := compiled(t) // for its zone
	plan, office, evenings := hours.Pattern{}, hours.Week{}, hours.Week{}
	for d := range 5 {
		plan.Paint(d, hours.Segment{Period: hours.Period{Start: 480, End: 1020}, Mode: hours.Free})
		office[d] = []hours.Period{{Start: 420, End: 1140}}
		evenings[d] = []hours.Period{{Start: 1080, End: 1320}}
	}
	person := func(id site.ID, number uint64, level site.ID) *site.Person {
		return &site.Person{
			ID: id, Credentials: []site.Credential{site.NewCard("26-bit", 42, number)}, Levels: []site.Grant{{LevelID: level}},
		}
	}
	holiday := func(id, kind site.ID, date string) site.Holiday {
		return site.Holiday{
			ID: id, TypeID: kind, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{date}}, End: 1440,
		}
	}
	c := &site.Config{
		Settings: site.DefaultSettings(), Sites: []site.Site{{ID: 1}}, Floors: []site.Floor{{ID: 2, SiteID: 1}},
		Types: []site.HolidayType{
			{ID: 3, Plans: site.DefaultMode, Schedules: site.AsWeekday},
			{ID: 4, Plans: site.DefaultMode, Schedules: site.Closed},
		},
		Holidays: []site.Holiday{holiday(5, 3, "2026-11-24"), holiday(6, 4, "2026-11-26")},
		Plans:    []site.Plan{{ID: 20, Pattern: plan}},
		Schedules: []site.Schedule{
			{ID: 30, Week: office}, {ID: 31, Week: evenings, Holidays: []site.ScheduleHoliday{{TypeID: 4, Do: site.AsWeekday}}},
		},
		Doors: []site.Door{{ID: 1, Port: 1, FloorID: 2, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()}},
		Levels: []site.Level{
			{ID: 40, Entries: []site.Entry{site.At(1, 30)}}, {ID: 41, Entries: []site.Entry{site.At(1, 31)}},
		},
		People: []*site.Person{person(101, 1, 40), person(102, 2, 41)},
	}
	p := New(image.Build(c, 9, *base.Zone, image.Secrets{}).Compile(), 0)
	p.Start(instant(t, "2026-11-23T00:00:00-04:00"))
	reads := func(when string, number uint64) pass.Reason {
		b, err := cards.Standard26.Encode(42, number)
		require.NoError(t, err)
		for _, e := range p.Step(instant(t, when), reads(1, b)).Events {
			if e.Kind == pass.WasGranted || e.Kind == pass.WasRefused {
				return e.Reason
			}
		}
		return pass.NoReason
	}
	asks := func(when string) hours.Mode {
		p.Step(instant(t, when), Input{})
		return p.Doors()[0].Mode
	}
	assert.Equal(t, hours.Free, asks("2026-11-23T10:00:00-04:00"), "an ordinary Monday")

	// common practice: an auto-unlock door locks on a holiday while cards go on working
	assert.Equal(t, hours.Card, asks("2026-11-24T10:00:00-04:00"))
	assert.Equal(t, pass.Granted, reads("2026-11-24T10:01:00-04:00", 1))

	// common practice: a holiday for "nobody" stops the cards too, while the cleaners' schedule can run on
	assert.Equal(t, hours.Card, asks("2026-11-26T10:00:00-04:00"))
	assert.Equal(t, pass.OutsideHours, reads("2026-11-26T10:01:00-04:00", 1))
	assert.Equal(t, pass.Granted, reads("2026-11-26T18:30:00-04:00", 2))

	// common practice: holidays run from local midnight to midnight
	assert.Equal(t, pass.OutsideHours, reads("2026-11-26T18:59:00-04:00", 1), "until 19:00 on any other Thursday")
	assert.Equal(t, pass.Granted, reads("2026-11-27T07:00:00-04:00", 1))
	assert.Equal(t, hours.Free, asks("2026-11-27T08:00:00-04:00"))
}
