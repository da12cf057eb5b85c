package compare

import (
	"fmt"
	"reflect"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// Horizon is how far the consequences of an edit are looked for: 13 months.
const Horizon = hours.Instant(396 * 86400 * 1000)

// Effect is what an edit of hours does from a moment on.
type Effect struct {
	Doors  []site.ID     // that ask something else at some time, in the order of the configuration
	Gain   int           // people who may come in at more hours somewhere
	Lose   int           // people who may come in at fewer hours somewhere
	People int           // people touched either way
	First  hours.Instant // when something differs first; Never: not within the horizon
	Where  site.ID       // the door where it differs first
	Days   int           // on how many days, at the door where it is most
	Modes  [6]int        // minutes gained by each mode on the first date that differs, at that door
	Open   int           // minutes that schedules gain (or lose) on the first date that differs, where no door does
}

// Hours compares what two configurations do from a moment on: what doors ask, and when people may come in.
// It looks at hours only; the people and their levels are those of the second.
func Hours(was, is *site.Config, before, after *site.Timetable, from hours.Instant) Effect {
	e := Effect{First: hours.Never}
	e.doors(is, before, after, from)
	e.people(is, before, after, from)
	return e
}

// pair is two timelines; doors that share both have the same differences.
type pair struct {
	plan     [2]*hours.Plan
	calendar [2]*hours.Calendar
	zone     *hours.Zone
	windows  [2]*hours.Window
	n        [2]int
}

func first(w []hours.Window) *hours.Window {
	if len(w) == 0 {
		return nil
	}
	return &w[0]
}

// difference is where two patterns part, and on how many days.
type difference struct {
	first hours.Instant
	days  int
	gain  [6]int // by mode, on the first date
	more  int    // minutes a schedule gains over the horizon
	less  int
	open  int // minutes a schedule gains on the first date
}

func (e *Effect) doors(c *site.Config, before, after *site.Timetable, from hours.Instant) {
	known := map[pair]difference{}
	same := newSame()
	for i := range c.Doors {
		id := c.Doors[i].ID
		a, b := before.Door(id), after.Door(id)
		if a == nil || b == nil {
			continue
		}
		p := pair{[2]*hours.Plan{a.Plan, b.Plan}, [2]*hours.Calendar{a.Calendar, b.Calendar}, b.Zone,
			[2]*hours.Window{first(a.Windows), first(b.Windows)}, [2]int{len(a.Windows), len(b.Windows)}}
		d, ok := known[p]
		if !ok {
			d = difference{first: hours.Never}
			if !same.plans(a.Plan, b.Plan) || !same.calendars(a.Calendar, b.Calendar) || !slices.Equal(a.Windows, b.Windows) {
				d = lines(a, b, from)
			}
			known[p] = d
		}
		if d.first == hours.Never {
			continue
		}
		e.Doors = append(e.Doors, id)
		e.Days = max(e.Days, d.days)
		if d.first < e.First {
			e.First, e.Modes, e.Where = d.first, d.gain, id
		}
	}
}

// lines walks two timelines along both their changes.
func lines(a, b *hours.Timeline, from hours.Instant) difference {
	d := difference{first: hours.Never}
	last := hours.Day(-1 << 30)
	var firstDay hours.Day
	nextA, nextB := a.Next(from), b.Next(from)
	for at := from; at < from+Horizon; {
		x, y := a.At(at), b.At(at)
		to := min(nextA, nextB)
		if !x.Same(y.Ask) {
			end := min(to, from+Horizon)
			if d.first == hours.Never {
				d.first, firstDay = at, b.Wall(at).Day
			}
			until := b.Wall(end - 1).Day
			if b.Wall(at).Day == firstDay {
				minutes := int((min(end, b.Resolve(firstDay+1, 0)) - at) / 60000)
				d.gain[x.Mode] -= minutes
				d.gain[y.Mode] += minutes
			}
			d.days += int(until - max(last, b.Wall(at).Day-1))
			last = until
		}
		if to == hours.Never {
			break
		}
		if nextA == to {
			nextA = a.Next(to)
		}
		if nextB == to {
			nextB = b.Next(to)
		}
		at = to
	}
	return d
}

// same remembers which plans, schedules and calendars are the same in both.
type same struct {
	plan      map[[2]*hours.Plan]bool
	calendar  map[[2]*hours.Calendar]bool
	schedules map[[2]*hours.Schedule]bool
}

func newSame() *same {
	return &same{map[[2]*hours.Plan]bool{}, map[[2]*hours.Calendar]bool{}, map[[2]*hours.Schedule]bool{}}
}

func remember[T any](known map[[2]*T]bool, a, b *T) bool {
	k := [2]*T{a, b}
	v, ok := known[k]
	if !ok {
		v = a == b || reflect.DeepEqual(a, b)
		known[k] = v
	}
	return v
}

func (s *same) plans(a, b *hours.Plan) bool         { return remember(s.plan, a, b) }
func (s *same) calendars(a, b *hours.Calendar) bool { return remember(s.calendar, a, b) }
func (s *same) schedule(a, b *hours.Schedule) bool  { return remember(s.schedules, a, b) }

type use struct {
	schedule site.ID
	site     site.ID
	zone     *hours.Zone
}

// people finds whose hours change: those who hold a level with a schedule that opens at other times.
func (e *Effect) people(c *site.Config, before, after *site.Timetable, from hours.Instant) {
	known := map[use]difference{}
	same := newSame()
	gain, lose := map[site.ID]bool{}, map[site.ID]bool{}
	for i := range c.Levels {
		for _, entry := range c.Levels[i].Entries {
			line := after.Door(entry.DoorID)
			a, b := before.Schedules[entry.ScheduleID], after.Schedules[entry.ScheduleID]
			if line == nil || a == nil || b == nil {
				continue
			}
			u := use{entry.ScheduleID, after.Site(entry.DoorID), line.Zone}
			d, ok := known[u]
			if !ok {
				d = difference{first: hours.Never}
				ca, cb := before.Calendar(u.site), after.Calendar(u.site)
				if !same.schedule(a, b) || !same.calendars(ca, cb) {
					d = openings(a, b, hours.Local{Zone: u.zone, Calendar: ca}, hours.Local{Zone: u.zone, Calendar: cb}, from)
				}
				known[u] = d
			}
			if d.more > 0 {
				gain[c.Levels[i].ID] = true
			}
			if d.less > 0 {
				lose[c.Levels[i].ID] = true
			}
			if d.first < e.First {
				e.First, e.Open, e.Where = d.first, d.open, entry.DoorID
			}
			if len(e.Doors) == 0 {
				e.Days = max(e.Days, d.days)
			}
		}
	}
	if len(gain)+len(lose) == 0 {
		return
	}
	for i := range c.People {
		more, less := false, false
		for _, g := range c.People[i].Levels {
			more, less = more || gain[g.LevelID], less || lose[g.LevelID]
		}
		if more {
			e.Gain++
		}
		if less {
			e.Lose++
		}
		if more || less {
			e.People++
		}
	}
}

func openings(a, b *hours.Schedule, la, lb hours.Local, from hours.Instant) difference {
	d := difference{first: hours.Never}
	last := hours.Day(-1 << 30)
	for at := from; at < from+Horizon; {
		x, y := a.OpenAt(la, at), b.OpenAt(lb, at)
		to := min(a.Next(la, at), b.Next(lb, at), from+Horizon)
		if x != y {
			day := lb.Wall(at).Day
			if d.first == hours.Never {
				d.first = at
			}
			minutes := int((to - at) / 60000)
			if y {
				d.more += minutes
			} else {
				d.less += minutes
				minutes = -minutes
			}
			if day == lb.Wall(d.first).Day {
				d.open += minutes
			}
			until := lb.Wall(to - 1).Day
			d.days += int(until - max(last, day-1))
			last = until
		}
		at = to
	}
	return d
}

// Words puts an effect into lines: hours on the first date, then on how many days.
func (e Effect) Words(z *hours.Zone) []Consequence {
	var out []Consequence
	if e.First == hours.Never {
		return out
	}
	date := z.Wall(e.First).Day.Words()
	for _, m := range hours.Modes {
		if d := e.Modes[m]; d != 0 {
			out = append(out, Consequence{fmt.Sprintf("%s %s on %s", duration(d), m, date), sign(d)})
		}
	}
	if e.Open != 0 {
		out = append(out, Consequence{fmt.Sprintf("%s open on %s", duration(e.Open), date), sign(e.Open)})
	}
	return out
}
