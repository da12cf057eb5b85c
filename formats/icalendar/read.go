// Package icalendar reads holidays from iCalendar (RFC 5545) and writes schedules, plans, dated changes and
// holidays as it, with time zones.
package icalendar

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"amberkeystone/core/hours"
)

// Day is one day of an event that may become a holiday.
type Day struct {
	Date       hours.Day
	Name       string
	Start, End int // minutes of the day; 0 and 1440 are the whole day
}

// Problem is an event that could not be read, and why.
type Problem struct {
	Event string
	Words string
}

// MostDays is how many days a calendar may stand for in all, and MostEvents how many events it may have.
const MostDays, MostEvents = 2000, 5000

// Read returns the days of the events of a calendar that fall in [from, to), ascending, and the events that
// it could not read. Times are taken as the wall clock of wherever the holiday will hold. It stops where the calendar
// stands for more than MostDays, and when the context ends.
func Read(ctx context.Context, text string, from, to hours.Day) ([]Day, []Problem, error) {
	if len(text) > 4<<20 {
		return nil, nil, fmt.Errorf("the file is larger than 4 MB")
	}
	if n := strings.Count(strings.ToUpper(text), "BEGIN:VEVENT"); n > MostEvents {
		return nil, nil, fmt.Errorf(
			"the file has %d events; at most %d are read at a time. Choose a file of holidays only",
			n,
			MostEvents,
		)
	}
	events, err := events(text)
	if err != nil {
		return nil, nil, err
	}
	var out []Day
	var problems []Problem
	moved := replaced(events)
	for _, e := range events {
		days, err := event(e, moved, from, to)
		if err != nil {
			problems = append(problems, Problem{name(e), err.Error()})
			continue
		}
		out = append(out, days...)
		if len(out) > MostDays {
			return nil, nil, fmt.Errorf(
				"the file stands for more than %d days in these years; %q alone for %d of them. Choose fewer years, or a file of holidays only",
				MostDays,
				name(e),
				len(days),
			)
		}
		if err := ctx.Err(); err != nil {
			return nil, nil, err
		}
	}
	slices.SortFunc(out, func(a, b Day) int { return int(a.Date - b.Date) })
	return out, problems, nil
}

// events parses every calendar of a stream (RFC 5545, 3.4: there may be several).
func events(text string) ([]*ics.VEvent, error) {
	text = strings.TrimSpace(upperNames(text))
	var out []*ics.VEvent
	for {
		part, rest, more := strings.Cut(text, "\nEND:VCALENDAR")
		if more {
			part += "\nEND:VCALENDAR\r\n"
		}
		cal, err := ics.ParseCalendar(strings.NewReader(part))
		if err != nil {
			return nil, fmt.Errorf("this is not an iCalendar file: %w", err)
		}
		out = append(out, cal.Events()...)
		if text = strings.TrimSpace(rest); text == "" {
			break
		}
	}
	if len(out) == 0 {
		return nil, fmt.Errorf("the file has no events; choose an iCalendar file (.ics) of holidays")
	}
	return out, nil
}

// replaced lists, by UID, the days of recurring events that an event of its own stands for (RFC 5545, 3.8.4.4).
func replaced(events []*ics.VEvent) map[string][]hours.Day {
	out := map[string][]hours.Day{}
	for _, e := range events {
		if p := e.GetProperty(ics.ComponentPropertyRecurrenceId); p != nil {
			if d, _, _, err := moment(p); err == nil {
				out[e.Id()] = append(out[e.Id()], d)
			}
		}
	}
	return out
}

// upperNames puts BEGIN, END and component names in upper case, which the parser wants (RFC 5545, 3.1 lets both).
func upperNames(text string) string {
	text = strings.TrimPrefix(text, "\ufeff")
	lines := strings.Split(text, "\n")
	for i, l := range lines {
		if u := strings.ToUpper(l); strings.HasPrefix(u, "BEGIN:") || strings.HasPrefix(u, "END:") {
			lines[i] = u
		}
	}
	return strings.Join(lines, "\n")
}

func name(e *ics.VEvent) string {
	if p := e.GetProperty(ics.ComponentPropertySummary); p != nil {
		return strings.Join(strings.Fields(ics.FromText(p.Value)), " ")
	}
	return "without a name"
}

// moment reads a date or a date with a time, by its wall clock.
func moment(p *ics.IANAProperty) (d hours.Day, minute int, whole bool, err error) {
	v := strings.TrimSuffix(p.Value, "Z")
	if len(v) == 8 {
		t, err := time.Parse("20060102", v)
		return hours.DayOf(t.Date()), 0, true, err
	}
	t, err := time.Parse("20060102T150405", v)
	return hours.DayOf(t.Date()), t.Hour()*60 + t.Minute(), false, err
}

func event(e *ics.VEvent, moved map[string][]hours.Day, from, to hours.Day) ([]Day, error) {
	if name(e) == "without a name" || name(e) == "" {
		return nil, fmt.Errorf("it has no SUMMARY, so no name")
	}
	if p := e.GetProperty(ics.ComponentPropertyStatus); p != nil && strings.EqualFold(p.Value, "CANCELLED") {
		return nil, fmt.Errorf("it is cancelled, so it is left out")
	}
	begin := e.GetProperty(ics.ComponentPropertyDtStart)
	if begin == nil {
		return nil, fmt.Errorf("it has no DTSTART")
	}
	d, minute, whole, err := moment(begin)
	if err != nil {
		return nil, fmt.Errorf("DTSTART %q is not a date", begin.Value)
	}
	length, until, err := extent(e, d, minute, whole)
	if err != nil {
		return nil, err
	}
	starts := []hours.Day{d}
	if p := e.GetProperty(ics.ComponentPropertyRrule); p != nil {
		r, err := hours.ParseRecurrence(p.Value)
		if err != nil {
			return nil, err
		}
		starts = r.Ending(minute, zoneOf(begin, d)).Between(d, from-hours.Longest, to)
	}
	more, err := days(e, ics.ComponentPropertyRdate)
	if err != nil {
		return nil, err
	}
	starts = append(starts, more...)
	slices.Sort(starts)
	gone, err := days(e, ics.ComponentPropertyExdate)
	if err != nil {
		return nil, err
	}
	if e.GetProperty(ics.ComponentPropertyRecurrenceId) == nil {
		gone = append(gone, moved[e.Id()]...)
	}
	var out []Day
	for _, s := range slices.Compact(starts) {
		if slices.Contains(gone, s) {
			continue
		}
		for k := range length {
			day := Day{Date: s + hours.Day(k), Name: name(e), Start: 0, End: hours.DayMinutes}
			if k == 0 {
				day.Start = minute
			}
			if k == length-1 {
				day.End = until
			}
			if day.Date >= from && day.Date < to && day.Start < day.End {
				out = append(out, day)
			}
		}
	}
	return out, nil
}

// zoneOf is the zone in which a property tells the time, around a day; nil for UTC and for clocks of no zone.
func zoneOf(p *ics.IANAProperty, d hours.Day) *hours.Zone {
	names := p.ICalParameters[string(ics.ParameterTzid)]
	if len(names) == 0 || strings.HasSuffix(p.Value, "Z") {
		return nil
	}
	loc, err := time.LoadLocation(names[0])
	if err != nil {
		return nil
	}
	day := hours.Instant(24 * time.Hour / time.Millisecond)
	z := hours.ZoneFrom(loc, hours.Instant(d)*day, max(hours.Instant(d), hours.Instant(hours.LastDay))*day)
	return &z
}

// extent returns how many days an event touches, and the minute at which the last of them ends.
func extent(e *ics.VEvent, d hours.Day, minute int, whole bool) (days, until int, err error) {
	if p := e.GetProperty(ics.ComponentPropertyDtEnd); p != nil {
		d2, m2, _, err := moment(p)
		if err != nil {
			return 0, 0, fmt.Errorf("DTEND %q is not a date", p.Value)
		}
		if m2 == 0 {
			d2, m2 = d2-1, hours.DayMinutes
		}
		days, until = int(d2-d)+1, m2
	} else if p := e.GetProperty(ics.ComponentPropertyDuration); p != nil {
		length, err := duration(p.Value)
		if err != nil {
			return 0, 0, err
		}
		end := minute + length
		days, until = (end-1)/hours.DayMinutes+1, (end-1)%hours.DayMinutes+1
	} else if whole {
		days, until = 1, hours.DayMinutes
	} else {
		return 0, 0, fmt.Errorf("it starts at a time and has no end")
	}
	if days < 1 || days > hours.Longest {
		return 0, 0, fmt.Errorf("it lasts %d days; a holiday lasts 1 to %d", days, hours.Longest)
	}
	return days, until, nil
}

// duration reads P2D, P1W or PT12H in minutes (RFC 5545, 3.3.6).
func duration(text string) (int, error) {
	bad := fmt.Errorf("DURATION %q is not understood", text)
	rest, ok := strings.CutPrefix(strings.TrimPrefix(text, "+"), "P")
	if !ok {
		return 0, bad
	}
	minutes, n, digits := 0, 0, false
	for _, c := range rest {
		unit := map[rune]int{'W': 7 * hours.DayMinutes, 'D': hours.DayMinutes, 'H': 60, 'M': 1}[c]
		switch {
		case c >= '0' && c <= '9' && n < 100000:
			n, digits = n*10+int(c-'0'), true
		case c == 'T' && !digits:
		case digits && unit > 0:
			minutes, n, digits = minutes+n*unit, 0, false
		case digits && c == 'S':
			n, digits = 0, false
		default:
			return 0, bad
		}
	}
	if minutes <= 0 || minutes > hours.Longest*hours.DayMinutes || digits {
		return 0, bad
	}
	return minutes, nil
}

// days returns the days that EXDATE or RDATE names; several may stand in one line.
func days(e *ics.VEvent, property ics.ComponentProperty) ([]hours.Day, error) {
	var out []hours.Day
	for _, p := range e.Properties {
		if p.IANAToken != string(property) {
			continue
		}
		for _, v := range strings.Split(p.Value, ",") {
			t, err := time.Parse("20060102", v[:min(len(v), 8)])
			if err != nil {
				return nil, fmt.Errorf("%s %q is not a date", property, v)
			}
			out = append(out, hours.DayOf(t.Date()))
		}
	}
	return out, nil
}
