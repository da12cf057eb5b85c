package icalendar

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"
	_ "time/tzdata"

	ical "github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

func halifax(t *testing.T) (hours.Zone, *time.Location) {
	loc, err := time.LoadLocation("America/Halifax")
	require.NoError(t, err)
	return hours.ZoneFrom(loc, hours.At(time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(2030, 1, 1, 0, 0, 0, 0, time.UTC))), loc
}

// occurrences reads a calendar with another library (emersion/go-ical) and lists what happens in a window.
func occurrences(t *testing.T, text string, loc *time.Location, from, to time.Time) []string {
	cal, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	require.NoError(t, err)
	var out []string
	for _, e := range cal.Events() {
		start, err := e.DateTimeStart(loc)
		require.NoError(t, err)
		end, err := e.DateTimeEnd(loc)
		require.NoError(t, err)
		starts := []time.Time{start}
		set, err := e.RecurrenceSet(loc)
		require.NoError(t, err)
		if set != nil {
			starts = set.Between(from, to, true)
		}
		name, err := e.Props.Text(ical.PropSummary)
		require.NoError(t, err)
		for _, s := range starts {
			if !s.Before(from) && s.Before(to) {
				out = append(out, s.Format("2006-01-02 15:04")+" "+s.Add(end.Sub(start)).Format("15:04")+" "+name)
			}
		}
	}
	slices.Sort(out)
	return out
}

// A schedule written as iCalendar happens, by another library, exactly when the schedule is open.
func TestScheduleOut(t *testing.T) {
	z, loc := halifax(t)
	var w hours.Week
	for d := range 5 {
		w[d] = []hours.Period{{Start: 510, End: 1020}}
	}
	w[4] = append(w[4], hours.Period{Start: 1320, End: 1800}) // Fr 22:00-06:00
	s := hours.CompileWeek(
		w,
		hours.Row[hours.Period]{Answer: hours.Resting},
		hours.Row[hours.Period]{Answer: hours.Own, Own: []hours.Period{{Start: 600, End: 840}}},
	)
	c := hours.NewCalendar([]hours.Holiday{
		{Type: 0, Dates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-11-26"}}, End: 1440},
		{Type: 1, Dates: hours.HolidayDates{Kind: hours.OnDates, Dates: []string{"2026-12-24"}}, End: 1440},
	}, []int{1, 2}, hours.FirstDay, hours.LastDay)
	from := hours.DayOf(2026, 11, 23)
	cal := New("Office hours", &z, hours.At(time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)))
	local := hours.Local{Zone: &z, Calendar: c}
	cal.Schedule(7, "Office hours", &s, local, from)
	text := cal.String()
	require.Contains(t, text, "\r\n")
	assert.Contains(t, text, "EXDATE")
	begin, end := z.Resolve(from, 0), z.Resolve(from+300, 0)
	var want []string
	for _, o := range s.Openings(local, begin, end) {
		want = append(want, z.Time(o.From).Format("2006-01-02 15:04")+" "+z.Time(o.To).Format("15:04")+" Office hours")
	}
	got := occurrences(t, text, loc, begin.Time(), end.Time())
	// Across a change of the clocks the end of a night is by the wall in ours, by its length in the reference.
	got = slices.DeleteFunc(got, func(s string) bool {
		return strings.HasPrefix(s, "2027-03-13 22:00") || strings.HasPrefix(s, "2026-10-31 22:00")
	})
	want = slices.DeleteFunc(want, func(s string) bool {
		return strings.HasPrefix(s, "2027-03-13 22:00") || strings.HasPrefix(s, "2026-10-31 22:00")
	})
	assert.Equal(t, want, got)
	assert.Contains(t, want, "2026-12-24 10:00 14:00 Office hours")
}

func TestChangesAndHolidaysOut(t *testing.T) {
	z, loc := halifax(t)
	cal := New("All", &z, hours.At(time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)))
	cal.Change(
		&site.DatedChange{
			ID:     4,
			Name:   "Lantern\r\nevening",
			Mode:   hours.Free,
			From:   "2026-11-27T17:00",
			Until:  "2026-11-27T21:30",
			Recurs: "FREQ=MONTHLY;BYDAY=-1FR;COUNT=3",
			Except: []string{"2026-12-25"},
		},
		"Quay",
	)
	cal.Holiday(
		&site.Holiday{
			ID: 5, Name: "Christmas", HolidayDates: hours.HolidayDates{Kind: hours.EveryYear, Month: 12, Day: 25}, End: 1440,
		},
		"Nobody",
		hours.DayOf(2026, 11, 23),
	)
	cal.Holiday(
		&site.Holiday{
			ID: 6, Name: "New Year’s Eve", HolidayDates: hours.HolidayDates{Kind: hours.EveryYear, Month: 12, Day: 31},
			Start: 840, End: 1440,
		},
		"Short",
		hours.DayOf(2026, 11, 23),
	)
	p := hours.CompilePlan(
		hours.Pattern{
			Default: hours.Card,
			Week:    [7][]hours.Segment{{{Period: hours.Period{Start: 600, End: 660}, Mode: hours.Free, First: true}}},
		},
	)
	cal.Plan(8, "Galleries", &p, hours.Local{Zone: &z}, hours.DayOf(2027, 1, 1))
	got := occurrences(t, cal.String(), loc, time.Date(2026, 11, 1, 0, 0, 0, 0, loc),
		time.Date(2027, 1, 10, 0, 0, 0, 0, loc))
	assert.Equal(t, []string{
		"2026-11-27 17:00 21:30 Lantern  evening: free", "2026-12-25 00:00 00:00 Christmas",
		"2026-12-31 14:00 00:00 New Year’s Eve",
		"2027-01-04 10:00 11:00 Galleries: free after a first card",
	}, slices.DeleteFunc(got, func(s string) bool { return strings.Contains(s, "2027-01-29") }))
}

const feed = "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n%s\r\nEND:VCALENDAR\r\n"

func vevent(lines ...string) string {
	return "BEGIN:VEVENT\r\nUID:a\r\nDTSTAMP:20260101T000000Z\r\n" + strings.Join(lines, "\r\n") + "\r\nEND:VEVENT"
}

func TestRead(t *testing.T) {
	for _, c := range []struct{ name, body, want string }{
		{"one day", vevent("SUMMARY:Tide Day", "DTSTART;VALUE=DATE:20261126"), "2026-11-26 00:00-24:00 Tide Day"},
		{"two days", vevent("SUMMARY:Fair", "DTSTART;VALUE=DATE:20261126", "DTEND;VALUE=DATE:20261128"), "2026-11-26 00:00-24:00 Fair; 2026-11-27 00:00-24:00 Fair"},
		{"every year", vevent("SUMMARY:Yearly", "DTSTART;VALUE=DATE:20001224", "RRULE:FREQ=YEARLY"), "2026-12-24 00:00-24:00 Yearly; 2027-12-24 00:00-24:00 Yearly"},
		{"without some", vevent("SUMMARY:Weekly", "DTSTART;VALUE=DATE:20261201", "RRULE:FREQ=WEEKLY;COUNT=4", "EXDATE;VALUE=DATE:20261208,20261222"), "2026-12-01 00:00-24:00 Weekly; 2026-12-15 00:00-24:00 Weekly"},
		{"and one more", vevent("SUMMARY:Weekly", "DTSTART;VALUE=DATE:20261201", "RRULE:FREQ=WEEKLY;COUNT=2", "RDATE;VALUE=DATE:20261203,20261201"), "2026-12-01 00:00-24:00 Weekly; 2026-12-03 00:00-24:00 Weekly; 2026-12-08 00:00-24:00 Weekly"},
		{"one is moved (RFC 5545, 3.8.4.4)", vevent("SUMMARY:Weekly", "DTSTART;VALUE=DATE:20261201", "RRULE:FREQ=WEEKLY;COUNT=2") + "\r\n" + vevent("SUMMARY:Moved", "DTSTART;VALUE=DATE:20261209", "RECURRENCE-ID;VALUE=DATE:20261208"),
			"2026-12-01 00:00-24:00 Weekly; 2026-12-09 00:00-24:00 Moved"},
		{"two calendars in one stream (RFC 5545, 3.4)", vevent("SUMMARY:First", "DTSTART;VALUE=DATE:20261126") + "\r\nEND:VCALENDAR\r\nBEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:y\r\n" + vevent("SUMMARY:Second", "DTSTART;VALUE=DATE:20261127"),
			"2026-11-26 00:00-24:00 First; 2026-11-27 00:00-24:00 Second"},
		{"an afternoon", vevent("SUMMARY:Half\\, day", "DTSTART;TZID=America/Halifax:20261224T140000", "DURATION:PT6H"), "2026-12-24 14:00-20:00 Half, day"},
		{"over midnight", vevent("SUMMARY:Night", "DTSTART:20261224T220000", "DTEND:20261225T020000"), "2026-12-24 22:00-24:00 Night; 2026-12-25 00:00-02:00 Night"},
		{"lower case", strings.ToLower("begin:vevent\r\n") + "UID:b\r\nSUMMARY:Low\r\nDTSTART;VALUE=DATE:20261126\r\nend:vevent", "2026-11-26 00:00-24:00 Low"},
	} {
		days, problems, err := Read(context.Background(), fmt.Sprintf(feed, c.body), hours.DayOf(2026, 1, 1),
			hours.DayOf(2028, 1, 1))
		require.NoError(t, err, c.name)
		assert.Empty(t, problems, c.name)
		var got []string
		for _, d := range days {
			got = append(got, fmt.Sprintf("%s %s-%s %s", d.Date, hours.Clock(d.Start), hours.Clock(d.End), d.Name))
		}
		assert.Equal(t, c.want, strings.Join(got, "; "), c.name)
	}
	for name, body := range map[string]string{
		"rule":    vevent("SUMMARY:Odd", "DTSTART;VALUE=DATE:20261126", "RRULE:FREQ=HOURLY"),
		"no date": vevent("SUMMARY:Never"),
		"no name": vevent("DTSTART;VALUE=DATE:20261126"),
		"no end":  vevent("SUMMARY:Open", "DTSTART:20261126T100000"),
		"length":  vevent("SUMMARY:Long", "DTSTART;VALUE=DATE:20260101", "DTEND;VALUE=DATE:20270101"),
		"cancel":  vevent("SUMMARY:Off", "DTSTART;VALUE=DATE:20261126", "STATUS:CANCELLED"),
		"added":   vevent("SUMMARY:Odd", "DTSTART;VALUE=DATE:20261126", "RDATE:soon"),
		"lapse":   vevent("SUMMARY:Lapse", "DTSTART:20261126T100000", "DURATION:soon"),
	} {
		_, problems, err := Read(context.Background(), fmt.Sprintf(feed, body), hours.DayOf(2026, 1, 1),
			hours.DayOf(2028, 1, 1))
		require.NoError(t, err, name)
		assert.Len(t, problems, 1, name)
	}
	for _, text := range []string{"", "nonsense", "BEGIN:VCALENDAR\r\nVERSION:2.0\r\n", fmt.Sprintf(feed, "X-A:b")} {
		_, _, err := Read(context.Background(), text, hours.DayOf(2026, 1, 1), hours.DayOf(2028, 1, 1))
		assert.Error(t, err, "%q", text)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(fmt.Sprintf(feed, vevent("SUMMARY:Weekly", "DTSTART;VALUE=DATE:20261201", "RRULE:FREQ=WEEKLY;COUNT=4",
		"EXDATE;VALUE=DATE:20261208")))
	f.Add(fmt.Sprintf(feed, vevent("SUMMARY:Night", "DTSTART:20261224T220000", "DURATION:P1DT2H")))
	f.Fuzz(func(t *testing.T, s string) {
		days, _, err := Read(context.Background(), s, hours.DayOf(2026, 1, 1), hours.DayOf(2027, 1, 1))
		if err != nil {
			return
		}
		for _, d := range days {
			require.Less(t, d.Start, d.End)
			require.GreaterOrEqual(t, d.Date, hours.DayOf(2026, 1, 1))
		}
	})
}
