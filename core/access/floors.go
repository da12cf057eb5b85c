package access

import (
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// FloorAnswer is whether a level releases one floor of an elevator, and why not.
type FloorAnswer struct {
	Reason   pass.Reason   // Granted, NoLevel, OutsideHours, LevelDates or SegmentLimit
	Level    site.ID       // that releases it, or comes nearest
	Schedule site.ID       // its schedule
	Next     hours.Instant // of OutsideHours: when it does next; Never where that never comes
}

// Floor tells of one stop of the elevator of a pass whether a level of its person releases it now. It looks at nothing
// but levels: the pass itself says whether the car lets them in at all.
func (t *Table) Floor(p *pass.Pass, stop int) FloorAnswer {
	local := hours.Local{Zone: t.Zone, Calendar: t.Calendars[p.Door]}
	out := FloorAnswer{Reason: pass.NoLevel, Next: hours.Never}
	better := func(r pass.Reason, w *Way) {
		if rank[r] > rank[out.Reason] {
			out.Reason, out.Level, out.Schedule = r, t.Levels[w.Level].ID, t.Schedules[w.Schedule].ID
		}
	}
	set := p.Word & setBits
	for k, level := range t.levelsOf(set) {
		if p.Only != 0 && t.Levels[level].ID != p.Only {
			continue
		}
		span := t.spanOf(set, k)
		ways := t.through(p.Door, level)
		for i := range ways {
			w := &ways[i]
			if !t.stops[w.Stops].Has(stop) {
				continue
			}
			schedule := &t.Schedules[w.Schedule]
			switch {
			case !span.holds(p.At):
				better(pass.LevelDates, w)
			case !schedule.OpenAt(local, p.At):
				better(pass.OutsideHours, w)
			case !counts(p.Levels, t.Levels[level].ID):
				better(pass.SegmentLimit, w)
			default:
				better(pass.Granted, w)
			}
			if at := schedule.NextOpen(local, max(p.At, span.From)); at < out.Next && at < span.Until {
				out.Next = at
			}
		}
	}
	return out
}

// rank is how near an answer comes to granting.
var rank = map[pass.Reason]int{
	pass.LevelDates: 1, pass.OutsideHours: 2, pass.SegmentLimit: 3, pass.Granted: 4,
}

func counts(only []int64, level site.ID) bool {
	for _, l := range only {
		if site.ID(l) == level {
			return true
		}
	}
	return len(only) == 0
}
