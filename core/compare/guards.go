package compare

import (
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// guard is the schedule while which the alarm area of a door is armed, before and after; 0: none.
type guard [2]site.ID

// guarded tells by which schedules a door is armed.
func (x *contrast) guarded(door site.ID) guard { return guard{x.guards[0][door], x.guards[1][door]} }

// rearmed tells when the alarm area of a door is armed at other times, as stretches that somebody is to walk.
func (x *contrast) rearmed(door site.ID) []stretch {
	g := x.guarded(door)
	switch line := x.after.Door(door); {
	case g == guard{} || line == nil:
		return nil
	case g[0] == g[1]:
		return x.schedule(g[0], door).stretches
	default:
		from, to := x.span(line.Zone)
		// What was never armed takes hours from people, and gives none; the other way round where it no longer is.
		return []stretch{{from: from, to: to, cannot: turns{gains: g[0] == 0, loses: g[1] == 0}}}
	}
}

// anyRearmed reports whether a door's alarm area is armed at other times than before.
func (x *contrast) anyRearmed() bool {
	for i := range x.is.Doors {
		if len(x.rearmed(x.is.Doors[i].ID)) > 0 {
			return true
		}
	}
	return false
}

// watch follows when the alarm area of a door is armed, on both sides.
type watch struct {
	has [2]bool
	at  [2]cursor
}

func (c *crowd) watch(door site.ID) (w watch) {
	g := c.guarded(door)
	for k, side := range [2]*site.Timetable{c.before, c.after} {
		if x := c.course(g[k], side.Door(door).Local, side); x != nil {
			w.has[k], w.at[k] = true, cursor{course: x}
		}
	}
	return w
}

// armed tells on which sides it is armed at an instant, and until when that is so.
func (w *watch) armed(at hours.Instant) (is [2]bool, until hours.Instant) {
	until = hours.Never
	for k := range w.at {
		if w.has[k] {
			open, next := w.at[k].at(at)
			is[k], until = open, min(until, next)
		}
	}
	return is, until
}

// seek goes to an instant.
func (w *watch) seek(at hours.Instant) {
	for k := range w.at {
		if w.has[k] {
			w.at[k].seek(at)
		}
	}
}

// disarmersDiffer reports whether somebody may disarm who might not, or the other way round.
func disarmersDiffer(entries map[site.ID][]entry) bool {
	for _, list := range entries {
		if slices.ContainsFunc(list, func(e entry) bool { return e.was && e.is && e.differs() }) {
			return true
		}
	}
	return false
}
