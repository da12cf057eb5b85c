package hours

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// The words of design 3.2 and of docs/decisions/0005, one by one, on Thursday 26 November 2026 and the nights about it.
func TestPartsOfDays(t *testing.T) {
	thursday := DayOf(2026, 11, 26)
	night := Week{3: {{960, 1560}}} // Th 16:00-02:00
	both := Week{2: {{1320, 1800}}, 3: {{480, 1080}, {1320, 1800}}}
	holiday := func(kind, start, end int) Holiday {
		return Holiday{Type: kind, Dates: HolidayDates{Kind: OnDates, Dates: []string{"2026-11-26"}}, Start: start, End: end}
	}
	closed, own := Row[Period]{Answer: Resting}, Row[Period]{Answer: Own, Own: []Period{{600, 720}, {1380, 1500}}}
	type look struct {
		day    Day
		minute int
		open   bool
	}
	for _, c := range []struct {
		name     string
		week     Week
		holidays []Holiday
		rows     []Row[Period]
		looks    []look
	}{
		{"a part-day holiday replaces the pattern inside its window only", both, []Holiday{holiday(0, 720, 960)}, []Row[Period]{closed},
			[]look{{thursday, 719, true}, {thursday, 720, false}, {thursday, 959, false}, {thursday, 960, true},
				{thursday + 1, 300, true}}},
		{"the second half of a night runs on into a holiday", both, []Holiday{holiday(0, 0, 1440)}, []Row[Period]{closed},
			[]look{{thursday, 0, true}, {thursday, 359, true}, {thursday, 360, false}, {thursday, 600, false},
				{thursday, 1400, false}, {thursday + 1, 60, false}}},
		{"closed at 23:59 never opens at midnight", night, []Holiday{holiday(0, 1080, 1440)}, []Row[Period]{closed},
			[]look{{thursday, 1079, true}, {thursday, 1080, false}, {thursday, 1439, false}, {thursday + 1, 0, false},
				{thursday + 1, 119, false}}},
		{"a window that ends before midnight leaves the night", night, []Holiday{holiday(0, 1080, 1200)}, []Row[Period]{closed},
			[]look{{thursday, 1199, false}, {thursday, 1200, true}, {thursday + 1, 119, true}, {thursday + 1, 120, false}}},
		{"own periods have nights of their own", both, []Holiday{holiday(0, 0, 1440)}, []Row[Period]{own},
			[]look{{thursday, 599, false}, {thursday, 600, true}, {thursday, 720, false}, {thursday, 1380, true},
				{thursday + 1, 59, true}, {thursday + 1, 60, false}}},
		{"the higher rank decides where two meet", both, []Holiday{holiday(0, 0, 1440), holiday(1, 600, 660)}, []Row[Period]{closed, own},
			[]look{{thursday, 599, false}, {thursday, 600, true}, {thursday, 659, true}, {thursday, 660, false}}},
		{"as weekday of a higher rank wins over closed", both, []Holiday{holiday(0, 0, 1440), holiday(1, 0, 1440)}, []Row[Period]{closed, {Answer: AsWeekday}},
			[]look{{thursday, 600, true}, {thursday + 1, 60, true}}},
	} {
		s := CompileWeek(c.week, c.rows...)
		calendar := NewCalendar(c.holidays, []int{1, 2}, thursday-10, thursday+10)
		for _, l := range c.looks {
			assert.Equal(t, l.open, s.Open(calendar, l.day, l.minute), "%s: %s %s", c.name, l.day, Clock(l.minute))
		}
	}
}

// Every holiday of a day is told, the one that decides first; a day without any has none.
func TestHolidaysOfADay(t *testing.T) {
	day := DayOf(2026, 12, 24)
	list := []Holiday{
		{Type: 0, Dates: HolidayDates{Kind: EveryYear, Month: 12, Day: 24}, End: DayMinutes},
		{Type: 1, Dates: HolidayDates{Kind: EveryYear, Month: 12, Day: 23, Days: 3}, Start: 720, End: DayMinutes},
	}
	c := NewCalendar(list, []int{1, 5}, day-100, day+100)
	assert.Equal(t, []int{1, 0}, c.On(day))
	assert.Equal(t, []int{1}, c.On(day+1))
	assert.Empty(t, c.On(day+2))
	first, ok := c.Decides(day, 600)
	assert.True(t, ok)
	assert.Equal(t, 0, first)
	first, _ = c.Decides(day, 720)
	assert.Equal(t, 1, first)
	_, ok = c.Decides(day+1, 0)
	assert.False(t, ok, "the afternoon's holiday says nothing of the morning")
	next, ok := c.NextDay(day - 50)
	assert.True(t, ok)
	assert.Equal(t, day-1, next)
	_, ok = c.NextDay(day + 2)
	assert.False(t, ok)
	var none *Calendar
	assert.Nil(t, none.On(day))
	_, ok = none.NextDay(day)
	assert.False(t, ok)
	assert.Nil(t, NewCalendar(nil, nil, 0, 10))
}

// Windows that meet are cut so that the later made change has the time; what is left of the other goes on.
func TestFlatten(t *testing.T) {
	w := func(from, until Instant, m Mode, change int64) Window { return Window{from, until, m, change} }
	for _, c := range []struct{ in, want []Window }{
		{nil, nil},
		{[]Window{w(0, 10, Free, 1)}, []Window{w(0, 10, Free, 1)}},
		{[]Window{w(0, 10, Free, 1), w(5, 15, Card, 2)}, []Window{w(0, 5, Free, 1), w(5, 15, Card, 2)}},
		{[]Window{w(5, 15, Card, 1), w(0, 10, Free, 2)}, []Window{w(0, 10, Free, 2), w(10, 15, Card, 1)}},
		{[]Window{w(0, 30, Free, 1), w(10, 20, Barred, 2)}, []Window{w(0, 10, Free, 1), w(10, 20, Barred, 2), w(20, 30, Free, 1)}},
		{[]Window{w(0, 10, Free, 1), w(10, 20, Card, 2)}, []Window{w(0, 10, Free, 1), w(10, 20, Card, 2)}},
		{[]Window{w(0, 12, Free, 1), w(10, 20, Free, 1)}, []Window{w(0, 20, Free, 1)}}, // one change that meets itself
	} {
		assert.Equal(t, c.want, Flatten(c.in))
	}
}
