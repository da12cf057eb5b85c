package prove

import (
	"testing"
	"time"
	_ "time/tzdata"

	"amberkeystone/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

func at(t *testing.T, s string) hours.Instant {
	v, err := time.Parse(time.RFC3339, s)
	require.NoError(t, err)
	return hours.At(v)
}

func book(t *testing.T) *Book {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	zone := hours.ZoneFrom(loc, at(t, "2026-01-01T00:00:00Z"), at(t, "2028-01-01T00:00:00Z"))
	plan := hours.Pattern{}
	evenings := hours.Week{}
	for d := range 7 {
		if d > 0 {
			plan.Paint(d, hours.Segment{Period: hours.Period{Start: 600, End: 1020}, Mode: hours.Free})
		}
		evenings[d] = []hours.Period{{Start: 1080, End: 1320}}
	}
	return NewBook(&site.Config{
		Settings: site.DefaultSettings(),
		Doors: []site.Door{
			{ID: 1, Name: "Quay entrance", Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()},
		},
		Plans:     []site.Plan{{ID: 20, Name: "Public", Pattern: plan}},
		Schedules: []site.Schedule{{ID: 30, Name: "Evenings", Week: evenings}},
		Levels:    []site.Level{{ID: 40, Name: "Crew", Entries: []site.Entry{site.At(1, 30)}}},
		People: []*site.Person{
			{ID: 50, Name: "Tomas", Credentials: []site.Credential{site.NewCard("26-bit", 42, 1)}, Levels: []site.Grant{{LevelID: 40}}},
			{ID: 51, Name: "Ines"},
		},
	}, map[site.ID]hours.Zone{9: zone})
}

func TestAsk(t *testing.T) {
	b := book(t)
	a, err := b.Ask(50, 1, at(t, "2026-11-26T22:14:00-04:00"))
	require.NoError(t, err)
	assert.Equal(t, pass.OutsideHours, a.Reason)
	assert.Equal(t, "Refused: outside hours", a.Words)
	assert.Equal(t, "card 42-00001", a.With)
	assert.Equal(t, at(t, "2026-11-27T18:00:00-04:00"), a.Next)
	assert.Equal(t, Line{"Hours", false, "Evenings: Thu 18:00-22:00; it is 22:14"}, a.Trace[len(a.Trace)-1])
	assert.Contains(t, a.Mend, "Tomas may come in again Fri 27 Nov 18:00")

	a, err = b.Ask(50, 1, at(t, "2026-11-26T19:00:00-04:00"))
	require.NoError(t, err)
	assert.True(t, a.Granted)

	a, err = b.Ask(51, 1, at(t, "2026-11-26T19:00:00-04:00"))
	require.NoError(t, err)
	assert.Contains(t, a.Words, "neither card nor PIN")

	_, err = b.Ask(50, 99, 0)
	assert.ErrorContains(t, err, "does not exist")
}

func TestNow(t *testing.T) {
	b := book(t)
	for when, want := range map[string]string{
		"2026-11-26T14:07:00-04:00": "The door is **free** now, until **17:00**; then a **card** is needed until **tomorrow 10:00**.",
		"2026-11-29T18:00:00-04:00": "A **card** is needed now, until **Tue 10:00**; then it goes **free** until **Tue 17:00**.",
	} {
		assert.Equal(t, want, b.Now(1, at(t, when), nil).Sentence)
	}
	n := b.Now(1, at(t, "2026-11-26T14:07:00-04:00"), nil)
	assert.True(t, n.Layers[2].Decides)
	assert.Contains(t, b.Now(77, 0, nil).Sentence, "no passage plan")
}

func TestRealWeekCoversEveryDay(t *testing.T) {
	for _, d := range book(t).RealWeek(1, hours.DayOf(2026, 11, 23)) {
		minute := 0
		for _, m := range d.Marks {
			assert.Equal(t, minute, m.Start)
			minute = m.End
		}
		assert.Equal(t, hours.DayMinutes, minute, d.Date)
	}
}

// Every reason has a mend, and no event is without a headline.
func TestWordsForEverything(t *testing.T) {
	b := book(t)
	for r := pass.ReaderOff; r < pass.Granted; r++ {
		e := pass.Fact{Kind: pass.WasRefused, Reason: r, Door: 1, Person: 50}
		assert.NotEmpty(t, b.Mend(&e), r.String())
		assert.Contains(t, b.Headline(&e), "Refused: ")
	}
	for _, k := range pass.Kinds() {
		assert.NotEmpty(t, b.Headline(&pass.Fact{Kind: k}), k.String())
		b.Detail(&pass.Fact{Kind: k, Door: 1, Bits: "junk"})
	}
	assert.Equal(t, "Clock moved 2 h 14 min ahead", b.Headline(&pass.Fact{Kind: pass.ClockSet, Note: "2h14m3s"}))
	assert.Equal(t, "removed (77)", b.Name(77))
}
