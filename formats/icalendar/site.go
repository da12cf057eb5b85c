package icalendar

import (
	"fmt"
	"slices"
	"strings"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// span is how far calendars are written: 400 days.
const span = 400

// piece is a stretch by the clock on the wall.
type piece struct {
	day        hours.Day
	start, end int
	name       string
}

// Schedule adds the hours of a schedule as they fall at a place from a day on, holidays taken into account.
func (w *Calendar) Schedule(id site.ID, name string, s *hours.Schedule, l hours.Local, from hours.Day) {
	var list []piece
	for _, o := range s.Openings(l, l.Resolve(from, 0), l.Resolve(from+span, 0)) {
		list = append(list, w.pieces(o.From, o.To, name)...)
	}
	w.weekly(fmt.Sprintf("schedule-%d", id), list)
}

// Plan adds what a plan asks beside its default mode, holidays taken into account.
func (w *Calendar) Plan(id site.ID, name string, p *hours.Plan, l hours.Local, from hours.Day) {
	var list []piece
	end := l.Resolve(from+span, 0)
	for at := l.Resolve(from, 0); at < end; {
		next := min(p.Next(l, at), end)
		if a, _ := p.AskAt(l, at); a.Mode != p.Default() || a.First || len(a.Levels) > 0 {
			list = append(list, w.pieces(at, next, name+": "+a.String())...)
		}
		at = next
	}
	w.weekly(fmt.Sprintf("plan-%d", id), list)
}

// pieces cuts a stretch at midnights where it is longer than a day.
func (w *Calendar) pieces(from, to hours.Instant, name string) []piece {
	var out []piece
	for from < to {
		a, b := w.zone.Wall(from), w.zone.Wall(to)
		end := int(b.Day-a.Day)*hours.DayMinutes + b.Minute
		next := to
		if end > a.Minute+hours.DayMinutes {
			end, next = hours.DayMinutes, w.zone.Resolve(a.Day+1, 0)
		}
		if end > a.Minute {
			out = append(out, piece{a.Day, a.Minute, end, name})
		}
		from = next
	}
	return out
}

// weekly writes pieces that come every week as one event with its exceptions, and the rest one by one.
func (w *Calendar) weekly(uid string, list []piece) {
	type group struct {
		weekday, start, end int
		name                string
	}
	days := map[group][]hours.Day{}
	var order []group
	for _, p := range list {
		g := group{p.day.Weekday(), p.start, p.end, p.name}
		if days[g] == nil {
			order = append(order, g)
		}
		if !slices.Contains(days[g], p.day) {
			days[g] = append(days[g], p.day)
		}
	}
	for i, g := range order {
		on := days[g]
		first, last := on[0], on[len(on)-1]
		if weeks := int(last-first)/7 + 1; len(on)*2 < weeks || len(on) < 3 {
			for _, d := range on {
				w.Add(Event{UID: fmt.Sprintf("%s-%d-%s", uid, i, d), Name: g.name, Day: d, Start: g.start, End: g.end})
			}
			continue
		}
		e := Event{UID: fmt.Sprintf("%s-%d", uid, i), Name: g.name, Day: first, Start: g.start, End: g.end,
			Rule: hours.Recurrence{
				Freq:     hours.Weekly,
				ByDay:    []hours.NthDay{{Weekday: g.weekday}},
				Until:    last,
				HasUntil: true,
			}}
		for d := first; d <= last; d += 7 {
			if !slices.Contains(on, d) {
				e.Except = append(e.Except, d)
			}
		}
		w.Add(e)
	}
}

// Change adds a dated change with its rule.
func (w *Calendar) Change(x *site.DatedChange, where string) {
	d, m, err := site.ParseWall(x.From)
	d2, m2, err2 := site.ParseWall(x.Until)
	r, err3 := hours.ParseRecurrence(x.Recurs)
	if err != nil || err2 != nil || err3 != nil {
		return
	}
	e := Event{
		UID:    fmt.Sprintf("change-%d", x.ID),
		Name:   fmt.Sprintf("%s: %s", x.Name, x.Mode),
		Detail: where,
		Day:    d,
		Start:  m,
		End:    int(d2-d)*hours.DayMinutes + m2,
		Rule:   r,
	}
	for _, s := range x.Except {
		if day, err := hours.ParseDay(s); err == nil {
			e.Except = append(e.Except, day)
		}
	}
	if ended, _, err := site.ParseWall(x.Ended); err == nil {
		if r.Freq == hours.Once {
			if _, minute, _ := site.ParseWall(x.Ended); ended >= d {
				e.End = min(e.End, int(ended-d)*hours.DayMinutes+minute)
			}
			if e.End <= e.Start {
				return
			}
		} else {
			e.Rule.Count, e.Rule.Until, e.Rule.HasUntil = 0, ended-1, true
		}
	}
	w.Add(e)
}

// Holiday adds the days of a holiday from a day on, as days without a zone, or as hours where it takes part
// of a day.
func (w *Calendar) Holiday(h *site.Holiday, kind string, from hours.Day) {
	for _, d := range h.Between(from, from+2*span) {
		w.Add(
			Event{
				UID:    fmt.Sprintf("holiday-%d-%s", h.ID, strings.ReplaceAll(d.String(), "-", "")),
				Name:   h.Name,
				Detail: kind,
				Day:    d,
				Start:  h.Start,
				End:    h.End,
				AllDay: h.Whole(),
			},
		)
	}
}
