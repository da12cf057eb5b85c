package icalendar

import (
	"fmt"
	"strings"

	ics "github.com/arran4/golang-ical"

	"amberkeystone/core/hours"
)

// Calendar collects events of one zone.
type Calendar struct {
	c     *ics.Calendar
	zone  *hours.Zone
	stamp string
	from  hours.Instant
}

// New begins a calendar whose times are read in a zone. Now is the time of writing; zone changes before it
// are left out.
func New(name string, z *hours.Zone, now hours.Instant) *Calendar {
	c := ics.NewCalendarFor("Amber Keystone")
	c.SetMethod(ics.MethodPublish)
	c.SetName(plain(name))
	c.SetXWRCalName(plain(name))
	w := &Calendar{c: c, zone: z, stamp: now.Time().Format("20060102T150405Z"), from: now - 366*hours.FullDay}
	w.timezone()
	return w
}

// plain keeps control characters out of values, which the library would write through.
func plain(s string) string {
	return strings.Map(func(r rune) rune {
		if r < ' ' || r == 0x7f {
			return ' '
		}
		return r
	}, s)
}

// timezone writes each offset change that the zone holds as an observance of its own (RFC 5545, 3.6.5).
func (w *Calendar) timezone() {
	tz := w.c.AddTimezone(w.zone.Name)
	was, _ := w.zone.OffsetAt(w.from)
	observance := func(o hours.Offset, before int32, at string) {
		s := ics.NewStandard()
		s.SetProperty(ics.ComponentPropertyDtStart, at)
		s.SetProperty("TZOFFSETFROM", offset(before))
		s.SetProperty("TZOFFSETTO", offset(o.Seconds))
		s.SetProperty("TZNAME", plain(o.Abbrev))
		if o.Seconds > before {
			tz.Components = append(tz.Components, &ics.Daylight{ComponentBase: s.ComponentBase})
		} else {
			tz.Components = append(tz.Components, s)
		}
	}
	observance(was, was.Seconds, "19700101T000000")
	for _, o := range w.zone.Offsets {
		if o.At <= w.from {
			continue
		}
		// An observance starts by the clock that it ends.
		local := o.At + hours.Instant(was.Seconds)*1000
		observance(o, was.Seconds, local.Time().Format("20060102T150405"))
		was = o
	}
}

func offset(seconds int32) string {
	sign := "+"
	if seconds < 0 {
		sign, seconds = "-", -seconds
	}
	return fmt.Sprintf("%s%02d%02d", sign, seconds/3600, seconds%3600/60)
}

func wall(d hours.Day, minute int) string {
	d += hours.Day(minute / hours.DayMinutes)
	minute %= hours.DayMinutes
	return strings.ReplaceAll(d.String(), "-", "") + fmt.Sprintf("T%02d%02d00", minute/60, minute%60)
}

// Event is something that happens from a minute of a day to another, perhaps again.
type Event struct {
	UID        string
	Name       string
	Detail     string
	Day        hours.Day
	Start, End int // minutes of the day; an end past 1440 is on a later day
	Rule       hours.Recurrence
	Except     []hours.Day
	AllDay     bool // whole days, without a zone
}

// Add writes an event.
func (w *Calendar) Add(e Event) {
	v := w.c.AddEvent(plain(e.UID) + "@amber-keystone")
	v.SetProperty(ics.ComponentPropertyDtstamp, w.stamp)
	v.SetSummary(plain(e.Name))
	if e.Detail != "" {
		v.SetDescription(plain(e.Detail))
	}
	zone := ics.WithTZID(w.zone.Name)
	date := func(d hours.Day) string { return strings.ReplaceAll(d.String(), "-", "") }
	if e.AllDay {
		v.SetProperty(ics.ComponentPropertyDtStart, date(e.Day), ics.WithValue("DATE"))
		v.SetProperty(
			ics.ComponentPropertyDtEnd,
			date(e.Day+hours.Day(max(1, e.End/hours.DayMinutes))),
			ics.WithValue("DATE"),
		)
	} else {
		v.SetProperty(ics.ComponentPropertyDtStart, wall(e.Day, e.Start), zone)
		v.SetProperty(ics.ComponentPropertyDtEnd, wall(e.Day, e.End), zone)
	}
	if e.Rule.Freq != hours.Once {
		v.AddRrule(w.rule(e))
	}
	for _, d := range e.Except {
		if e.AllDay {
			v.AddProperty(ics.ComponentPropertyExdate, date(d), ics.WithValue("DATE"))
		} else {
			v.AddProperty(ics.ComponentPropertyExdate, wall(d, e.Start), zone)
		}
	}
}

// rule writes UNTIL in UTC where the event has a zone (RFC 5545, 3.3.10).
func (w *Calendar) rule(e Event) string {
	r := e.Rule.Ending(e.Start, w.zone)
	if r.HasUntil && !e.AllDay {
		end := w.zone.Resolve(r.Until, e.Start).Time()
		r.Until = hours.DayOf(end.Date())
		r.UntilAt = hours.UntilAt{Said: true, UTC: true, Second: end.Hour()*3600 + end.Minute()*60 + end.Second()}
	}
	return r.String()
}

// String returns the calendar as text, with CRLF line ends.
func (w *Calendar) String() string { return w.c.Serialize(ics.WithNewLineWindows) }
