package compare

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

func drawPlan(t *rapid.T) site.Plan {
	p := site.Plan{ID: 7, Pattern: hours.Pattern{Default: rapid.SampledFrom(hours.Modes).Draw(t, "default")}}
	for range rapid.IntRange(0, 4).Draw(t, "strokes") {
		start := rapid.IntRange(0, 287).Draw(t, "start") * 5
		p.Pattern.Paint(
			rapid.IntRange(0, 6).Draw(t, "day"),
			hours.Segment{
				Period: hours.Period{Start: start, End: start + 5*rapid.IntRange(1, 288).Draw(t, "length")},
				Mode:   rapid.SampledFrom(hours.Modes).Draw(t, "mode"),
			},
		)
	}
	return p
}

// The first difference that is told is the first that there is, and the minutes of its date are those that differ, for
// any two plans, across a change of the clocks.
func TestFirstDifferenceByHand(t *testing.T) {
	z := halifax(t)
	from := z.Resolve(hours.DayOf(2027, 3, 10), 600)
	rapid.Check(t, func(t *rapid.T) {
		was := museum()
		was.Plans[0] = drawPlan(t)
		is := *was
		is.Plans = []site.Plan{drawPlan(t), was.Plans[1]}
		zone := func(site.ID) *hours.Zone { return z }
		before, after := site.NewTimetable(was, zone), site.NewTimetable(&is, zone)
		e := Hours(was, &is, before, after, from)
		a, b := before.Door(20), after.Door(20)
		first, minutes := hours.Never, [6]int{}
		for at := from; at < from+15*86400000; at += 60000 { // two weeks: one of them misses an hour
			x, y := a.At(at).Mode, b.At(at).Mode
			if x == y {
				continue
			}
			if first == hours.Never {
				first = at
			}
			if z.Wall(at).Day == z.Wall(first).Day {
				minutes[x]--
				minutes[y]++
			}
		}
		require.Equal(t, first, e.First)
		require.Equal(t, minutes, e.Modes)
		require.Equal(t, first != hours.Never, len(e.Doors) == 2)
	})
}

// Comparing a configuration with itself finds nothing.
func TestNothingDiffers(t *testing.T) {
	z := halifax(t)
	e := effect(museum(), z, Edit{})
	assert.Equal(t, Effect{First: hours.Never}, e)
}

// The museum's holiday for nobody: doors stay on card, and whose cards stop is named.
func TestDay(t *testing.T) {
	z := halifax(t)
	zone := func(site.ID) *hours.Zone { return z }
	h := site.Holiday{
		ID: 9, TypeID: 4, HolidayDates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}}, End: 1440,
	}
	is := Edit{Holiday: &h}.Apply(museum())
	before, after := site.NewTimetable(museum(), zone), site.NewTimetable(is, zone)
	e := Day(is, before, after, hours.DayOf(2026, 11, 26))
	assert.Equal(t, []DoorDay{{20, "card instead of free from 10:00"}, {21, "card instead of free from 10:00"}}, e.Doors)
	assert.Equal(t, []ScheduleDay{{6, 600, 0}}, e.Schedules)
	assert.Equal(t, []site.ID{40, 41}, e.Losers)
	assert.Empty(t, e.Gainers)
	e = Day(is, before, after, hours.DayOf(2026, 11, 27))
	assert.Equal(t, DayEffect{Running: []site.ID{6}}, e, "another date is as it was")

	few := museum().Plans[0]
	few.Pattern = few.Pattern.Normal()
	few.Pattern.Paint(3, hours.Segment{
		Period: hours.Period{Start: 1020, End: 1080}, Mode: hours.Card, Levels: []int64{31},
	})
	is = Edit{Plan: &few}.Apply(museum())
	is.Levels[1].Name = "Registrars"
	e = Day(is, site.NewTimetable(museum(), zone), site.NewTimetable(is, zone), hours.DayOf(2026, 11, 26))
	assert.Equal(t, "card for Registrars only instead of card from 17:00", e.Doors[0].Words)
	assert.Equal(t, []site.ID{40, 41}, e.Losers, "at the last hour of their schedule")
	assert.Equal(t, []site.ID{6}, e.Running)
}
