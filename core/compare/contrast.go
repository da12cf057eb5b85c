package compare

import (
	"reflect"
	"slices"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// contrast is two timetables beside each other over a span of time. It remembers what it has worked out: doors
// that share plans, holidays and dated changes have the same differences.
type contrast struct {
	was, is       *site.Config
	before, after *site.Timetable
	span          func(*hours.Zone) (from, to hours.Instant)

	guards    [2]map[site.ID]site.ID // the schedules while which the alarm areas of doors are armed, before and after
	doors     map[pair]*difference
	schedules map[use]*difference
	days      map[calendars][]hours.Day
	equal     map[[2]any]bool
}

// calendars are two calendars by the clock of a zone.
type calendars struct {
	before, after *hours.Calendar
	zone          *hours.Zone
}

func newContrast(
	was, is *site.Config,
	before, after *site.Timetable,
	span func(*hours.Zone) (from, to hours.Instant),
) *contrast {
	return &contrast{
		was,
		is,
		before,
		after,
		span,
		[2]map[site.ID]site.ID{was.Guards(), is.Guards()},
		map[pair]*difference{},
		map[use]*difference{},
		map[calendars][]hours.Day{},
		map[[2]any]bool{},
	}
}

// pair is two timelines.
type pair struct {
	plan     [2]*hours.Plan
	calendar [2]*hours.Calendar
	zone     [2]*hours.Zone
	windows  [2]*hours.Window
	n        [2]int
}

func pairOf(a, b *hours.Timeline) pair {
	return pair{
		[2]*hours.Plan{a.Plan, b.Plan},
		[2]*hours.Calendar{a.Calendar, b.Calendar},
		[2]*hours.Zone{a.Zone, b.Zone},
		[2]*hours.Window{first(a.Windows), first(b.Windows)},
		[2]int{len(a.Windows), len(b.Windows)},
	}
}

func first(w []hours.Window) *hours.Window {
	if len(w) == 0 {
		return nil
	}
	return &w[0]
}

// use is a schedule by the clock and the holidays of a door.
type use struct {
	schedule      site.ID
	before, after hours.Local
}

// stretch is a time throughout which a door asks the one before and the other after, or a schedule is open on one side.
type stretch struct {
	from, to hours.Instant
	asks     bool // it is of a door
	was, is  hours.Ask
	cannot   turns // what nobody does in it by what the stretch is of
}

// difference is where two patterns part, and on how many days.
type difference struct {
	first     hours.Instant
	days      int
	gain      [6]int // by mode, in minutes on the first date
	open      int    // minutes a schedule gains on the first date
	stretches []stretch
}

var none = &difference{first: hours.Never}

// door tells how what a door asks differs.
func (x *contrast) door(id site.ID) *difference {
	a, b := x.before.Door(id), x.after.Door(id)
	if a == nil || b == nil {
		return none
	}
	p := pairOf(a, b)
	d, ok := x.doors[p]
	if !ok {
		d = none
		s := suspects{zone: b.Zone, always: a.Zone != b.Zone || !alike(x, a.Plan, b.Plan)}
		if from, to := x.span(b.Zone); !slices.Equal(a.Within(from, to), b.Within(from, to)) {
			s.lines = []*hours.Timeline{a, b}
		}
		s.days = x.apart(a.Calendar, b.Calendar, b.Zone)
		if s.any() {
			d = x.lines(a, b, s)
		}
		x.doors[p] = d
	}
	return d
}

// apart lists the days on which two calendars differ, and remembers it.
func (x *contrast) apart(a, b *hours.Calendar, z *hours.Zone) []hours.Day {
	if a == b {
		return nil
	}
	k := calendars{a, b, z}
	days, ok := x.days[k]
	if !ok {
		from, to := x.span(z)
		days = a.Apart(b, z.Wall(from).Day, z.Wall(to-1).Day+1)
		x.days[k] = days
	}
	return days
}

// suspects are the times at which two patterns may differ.
type suspects struct {
	zone   *hours.Zone
	always bool
	lines  []*hours.Timeline // whose dated changes do
	days   []hours.Day       // on which their holidays do
}

func (s *suspects) any() bool { return s.always || len(s.lines)+len(s.days) > 0 }

// next returns the first instant at or after one at which there may be a difference, or Never.
func (s *suspects) next(at hours.Instant) hours.Instant {
	if s.always {
		return at
	}
	out := hours.Never
	for _, l := range s.lines {
		out = min(out, l.InWindow(at))
	}
	today := s.zone.Wall(at).Day
	for len(s.days) > 0 && s.days[0] < today {
		s.days = s.days[1:]
	}
	if len(s.days) > 0 {
		out = min(out, max(at, s.zone.Resolve(s.days[0], 0)))
	}
	return out
}

// schedule tells how a schedule differs at a door.
func (x *contrast) schedule(id, door site.ID) *difference {
	a, b := x.before.Schedules[id], x.after.Schedules[id]
	was, is := x.before.Door(door), x.after.Door(door)
	if a == nil || b == nil || was == nil || is == nil {
		return none
	}
	u := use{id, was.Local, is.Local}
	d, ok := x.schedules[u]
	if !ok {
		d = none
		s := suspects{
			zone:   is.Zone,
			always: was.Zone != is.Zone || !alike(x, a, b),
			days:   x.apart(was.Calendar, is.Calendar, is.Zone),
		}
		if s.any() {
			d = x.openings(a, b, was.Local, is.Local, s)
		}
		x.schedules[u] = d
	}
	return d
}

// alike reports whether two are the same throughout, and remembers it.
func alike[T any](x *contrast, a, b *T) bool {
	if a == b {
		return true
	}
	k := [2]any{a, b}
	v, ok := x.equal[k]
	if !ok {
		v = reflect.DeepEqual(a, b)
		x.equal[k] = v
	}
	return v
}

// walk goes through the span along the changes of both sides, and calls piece for each stretch in which neither changes
// and they may differ.
func (x *contrast) walk(s suspects, before, after func(hours.Instant) hours.Instant, piece func(at, to hours.Instant)) {
	from, end := x.span(s.zone)
	var next, nextAfter hours.Instant
	for at := s.next(from); at < end; {
		if next <= at {
			next = before(at)
		}
		if nextAfter <= at {
			nextAfter = after(at)
		}
		to := min(next, nextAfter, end)
		piece(at, to)
		at = s.next(to)
	}
}

// lines tells how two timelines differ.
func (x *contrast) lines(a, b *hours.Timeline, s suspects) *difference {
	d := &difference{first: hours.Never}
	var day days
	x.walk(s, a.Next, b.Next, func(at, to hours.Instant) {
		was, is := a.At(at), b.At(at)
		if was.Same(is.Ask) {
			return
		}
		d.stretches = append(d.stretches, stretch{from: at, to: to, asks: true, was: was.Ask, is: is.Ask})
		minutes := d.count(&day, b.Zone, at, to)
		d.gain[was.Mode] -= minutes
		d.gain[is.Mode] += minutes
	})
	return d
}

// openings tells how two schedules differ.
func (x *contrast) openings(a, b *hours.Schedule, la, lb hours.Local, s suspects) *difference {
	d := &difference{first: hours.Never}
	var day days
	next := func(s *hours.Schedule, l hours.Local) func(hours.Instant) hours.Instant {
		return func(at hours.Instant) hours.Instant { return s.Next(l, at) }
	}
	x.walk(s, next(a, la), next(b, lb), func(at, to hours.Instant) {
		was, is := a.OpenAt(la, at), b.OpenAt(lb, at)
		if was == is {
			return
		}
		d.stretches = append(d.stretches, stretch{from: at, to: to})
		minutes := d.count(&day, lb.Zone, at, to)
		if was {
			minutes = -minutes
		}
		d.open += minutes
	})
	return d
}

// days is what was counted last while days are counted.
type days struct{ first, last hours.Day }

// count notes a stretch that differs: when the first is, on which days they are. It returns how many of its
// minutes are on the first of those days.
func (d *difference) count(seen *days, z *hours.Zone, at, to hours.Instant) (minutes int) {
	day, until := z.Wall(at).Day, z.Wall(to-1).Day
	if d.first == hours.Never {
		d.first, seen.first, seen.last = at, day, day-1
	}
	d.days += int(until - max(seen.last, day-1))
	seen.last = until
	if day == seen.first {
		minutes = int((min(to, z.Resolve(day+1, 0)) - at) / hours.Minute)
	}
	return minutes
}
