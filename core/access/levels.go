package access

import (
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Check looks for a level that covers the door now. Where none does it says which came nearest.
func (g LevelsGate) Check(p *pass.Pass) pass.Verdict {
	if p.Asks() == hours.Free {
		return pass.Yes
	}
	set := p.Word & setBits
	day := hours.DayAt(g.Zone, g.Calendars[p.Door], p.At)
	var near nearest
	for k, level := range g.levelsOf(set) {
		if p.Only != 0 && g.Levels[level].ID != p.Only {
			continue
		}
		for _, way := range g.through(p.Door, level) {
			if !way.Side.Takes(p.Out) {
				if way.Side == site.SideNone {
					p.Floorless = g.Levels[level].ID
				}
				continue
			}
			l := &g.Levels[level]
			if !g.spanOf(set, k).holds(p.At) {
				near.dated = l
				continue
			}
			schedule := &g.Schedules[way.Schedule]
			if !schedule.OpenOn(&day) {
				if near.closed == nil {
					near.closed, near.schedule = l, schedule
				}
				continue
			}
			if len(p.Levels) > 0 && !slices.Contains(p.Levels, int64(l.ID)) {
				near.limited = l
				continue
			}
			if way.Stops != 0 {
				g.board(p, l, schedule, way.Stops)
				continue
			}
			p.Level, p.Schedule = l.ID, schedule.ID
			p.Trace.Add(pass.CheckLevel, true, int64(l.ID), 0)
			p.Trace.Add(pass.CheckHours, true, int64(schedule.ID), 0)
			return pass.Yes
		}
	}
	if p.Stops != (site.StopSet{}) {
		p.Trace.Add(pass.CheckLevel, true, int64(p.Level), 0)
		p.Trace.Add(pass.CheckHours, true, int64(p.Schedule), 0)
		return pass.Yes
	}
	return g.refuse(p, &near)
}

// board adds the floors that a level releases now. The first level that releases any is named.
func (g LevelsGate) board(p *pass.Pass, l *Level, s *Schedule, stops uint16) {
	if p.Stops == (site.StopSet{}) {
		p.Level, p.Schedule = l.ID, s.ID
	}
	p.Stops.Join(&g.stops[stops])
}

// nearest is the levels that lead through the door and do not help now, by what is wrong.
type nearest struct {
	limited  *Level // does not count at this hour
	closed   *Level // its schedule is closed
	schedule *Schedule
	dated    *Level // is not held these days
}

// refuse says what is wrong with the level that came nearest.
func (g LevelsGate) refuse(p *pass.Pass, near *nearest) pass.Verdict {
	switch {
	case near.limited != nil:
		p.Level = near.limited.ID
		p.Trace.Add(pass.CheckLevel, true, int64(p.Level), 0)
		return refuse(p, pass.SegmentLimit, pass.CheckLimit, int64(p.Level), 0)
	case near.closed != nil:
		p.Level, p.Schedule = near.closed.ID, near.schedule.ID
		if p.Trace != nil {
			g.next(p)
		}
		p.Trace.Add(pass.CheckLevel, true, int64(p.Level), 0)
		return refuse(p, pass.OutsideHours, pass.CheckHours, int64(p.Schedule), int64(p.Next))
	case near.dated != nil:
		p.Level = near.dated.ID
		p.Trace.Add(pass.CheckLevel, true, int64(p.Level), 0)
		return refuse(p, pass.LevelDates, pass.CheckDates, int64(p.Level), 0)
	}
	if p.Floorless != 0 { // it comes to the car, and to no floor
		p.Level = p.Floorless
		p.Trace.Add(pass.CheckLevel, true, int64(p.Level), 0)
		return refuse(p, pass.FloorNotAllowed, pass.CheckFloor, 0, 0)
	}
	return refuse(p, pass.NoLevel, pass.CheckLevel, 0, 0)
}

// next says when somebody may come in again, and by which level: never after the last day of the card, the person or
// the level, and counting levels that begin later.
func (g LevelsGate) next(p *pass.Pass) {
	local := hours.Local{Zone: g.Zone, Calendar: g.Calendars[p.Door]}
	p.Next = hours.Never
	last := p.Last
	if p.Word&personApart != 0 {
		last = min(last, g.people[p.Person].span.Until)
	}
	set := p.Word & setBits
	for k, level := range g.levelsOf(set) {
		if p.Only != 0 && g.Levels[level].ID != p.Only {
			continue
		}
		span := g.spanOf(set, k)
		for _, way := range g.through(p.Door, level) {
			if !way.Side.Takes(p.Out) {
				continue
			}
			at := g.Schedules[way.Schedule].NextOpen(local, max(p.At, span.From))
			if at < p.Next && at < min(last, span.Until) {
				p.Level, p.Schedule, p.Next = g.Levels[level].ID, g.Schedules[way.Schedule].ID, at
			}
		}
	}
}

// MayOpen reports whether whoever a pass is of may give the first card at its door: anybody who may come in, or where
// the door wants that, somebody with a level that opens the day and holds here and now.
func (t *Table) MayOpen(p *pass.Pass) bool {
	if p.Out || t.Doors[p.Door].FirstCard.Who != site.Openers {
		return true
	}
	if !p.Known {
		return true // what else is wrong says more
	}
	return t.Holds(p, OpensDay)
}

// Holds reports whether whoever a pass is of has a level with an authority that holds at the door here and now.
func (t *Table) Holds(p *pass.Pass, a Authority) bool {
	if !p.Known {
		return false
	}
	day := hours.DayAt(t.Zone, t.Calendars[p.Door], p.At)
	set := p.Word & setBits
	for k, level := range t.levelsOf(set) {
		if t.has(p, set, k, level, a) && t.leads(p, level, &day) {
			return true
		}
	}
	return false
}

// Counts is Holds of a level that also counts at this hour, where the passage plan is limited to some.
func (t *Table) Counts(p *pass.Pass, a Authority) bool {
	if !p.Known {
		return false
	}
	day := hours.DayAt(t.Zone, t.Calendars[p.Door], p.At)
	set := p.Word & setBits
	for k, level := range t.levelsOf(set) {
		l := &t.Levels[level]
		if len(p.Levels) > 0 && !slices.Contains(p.Levels, int64(l.ID)) || !t.has(p, set, k, level, a) {
			continue
		}
		if t.leads(p, level, &day) {
			return true
		}
	}
	return false
}

// has reports whether a level is held now that has an authority, and is not left out by a screening.
func (t *Table) has(p *pass.Pass, set uint32, k int, level int32, a Authority) bool {
	l := &t.Levels[level]
	return l.May&a != 0 && (p.Only == 0 || l.ID == p.Only) && t.spanOf(set, k).holds(p.At)
}

// leads reports whether a level leads through the side of a pass now.
func (t *Table) leads(p *pass.Pass, level int32, day *hours.DayNow) bool {
	for _, way := range t.through(p.Door, level) {
		if way.Side.Takes(p.Out) && t.Schedules[way.Schedule].OpenOn(day) {
			return true
		}
	}
	return false
}

// Covers reports whether whoever a pass is of holds a level that leads through its side now.
func (t *Table) Covers(p *pass.Pass, level site.ID) bool {
	set := p.Word & setBits
	for k, n := range t.levelsOf(set) {
		if t.Levels[n].ID == level && t.spanOf(set, k).holds(p.At) {
			day := hours.DayAt(t.Zone, t.Calendars[p.Door], p.At)
			return t.leads(p, n, &day)
		}
	}
	return false
}

// Screened lists the screenings that whoever a pass is of is under.
func (d *Directory) Screened(p *pass.Pass) []site.ID {
	if p.Word&screened == 0 {
		return nil
	}
	return d.under[p.Person]
}

// Under lists the screenings that a person is under.
func (d *Directory) Under(person site.ID) []site.ID { return d.under[person] }
