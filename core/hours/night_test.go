package hours

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A night belongs to its evening, whole or in pieces, whatever mode it is in and whatever the next day is: Monday the
// 23rd, Tuesday the 24th is a holiday that goes free.
func TestNights(t *testing.T) {
	night := Period{22 * 60, 30 * 60}
	monday := DayOf(2026, 11, 23)
	calendar := NewCalendar(
		[]Holiday{{Type: 0, Dates: HolidayDates{Kind: OnDates, Dates: []string{"2026-11-24"}}, End: DayMinutes}},
		[]int{1},
		FirstDay,
		LastDay,
	)
	free := Row[Segment]{Answer: Own, Own: []Segment{{Period: Period{0, DayMinutes}, Mode: Free}}}
	for name, c := range map[string]struct {
		def   Mode
		paint func(p *Pattern)
		want  map[int]Mode // by hour of Tuesday
	}{
		"in another mode": {Barred, func(p *Pattern) { p.Paint(0, Segment{Period: night, Mode: PIN}) }, map[int]Mode{1: PIN, 5: PIN, 6: Free}},
		"in the default mode": {Barred, func(p *Pattern) { p.Paint(0, Segment{Period: night, Mode: Barred}) },
			map[int]Mode{1: Barred, 5: Barred, 6: Free}},
		"painted over in its middle": {Card, func(p *Pattern) {
			p.Paint(0, Segment{Period: night, Mode: Barred})
			p.Paint(1, Segment{Period: Period{2 * 60, 3 * 60}, Mode: PIN}) // Tuesday's own, which the holiday replaces
		}, map[int]Mode{1: Barred, 2: Free, 3: Barred, 5: Barred, 6: Free}},
		"erased": {Barred, func(p *Pattern) {
			p.Paint(0, Segment{Period: night, Mode: PIN})
			p.Erase(0, night)
		}, map[int]Mode{1: Free, 5: Free}},
		"erased in its middle": {Card, func(p *Pattern) {
			p.Paint(0, Segment{Period: night, Mode: Barred})
			p.Erase(1, Period{2 * 60, 3 * 60})
		}, map[int]Mode{1: Barred, 2: Free, 3: Barred, 6: Free}},
	} {
		t.Run(name, func(t *testing.T) {
			p := Pattern{Default: c.def}
			c.paint(&p)
			assert.NoError(t, p.Valid())
			assert.Equal(t, p, p.Normal(), "painting leaves nothing to tidy")
			plan := CompilePlan(p, free)
			for hour, want := range c.want {
				got, _ := plan.Ask(calendar, monday+1, hour*60)
				assert.Equal(t, want, got.Mode, "%02d:00", hour)
			}
		})
	}
}

// The rest of a night that a holiday's own evening cuts short goes with that evening.
func TestPiecesOfANightGoWithTheirEvening(t *testing.T) {
	week := Week{}.Open(0, Period{22 * 60, 30 * 60}).Close(1, Period{2 * 60, 3 * 60})
	assert.Equal(t, []Period{{22 * 60, 26 * 60}, {27 * 60, 30 * 60}}, week[0])
	assert.Empty(t, week[1])
	monday := DayOf(2026, 11, 23)
	on := func(date string) *Calendar {
		return NewCalendar([]Holiday{{Dates: HolidayDates{Kind: OnDates, Dates: []string{date}}, End: DayMinutes}}, []int{1},
			FirstDay, LastDay)
	}
	s := CompileWeek(week, Row[Period]{Answer: Resting})
	open := func(c *Calendar, hour int) bool { return s.Open(c, monday+1, hour*60) }
	for hour, want := range map[int]bool{1: true, 2: false, 4: true, 6: false} {
		assert.Equal(t, want, open(nil, hour), "%02d:00", hour)
		assert.Equal(t, want, open(on("2026-11-24"), hour), "a holiday tomorrow leaves it, %02d:00", hour)
		assert.False(t, open(on("2026-11-23"), hour), "a holiday on the evening takes it, %02d:00", hour)
	}
}
