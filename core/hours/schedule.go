package hours

// Kind is what sort of day it is: 0..6 are Monday to Sunday, 7 and above are holiday types in the order
// in which the configuration lists them.
type Kind uint8

// Weekdays is the number of kinds that are not holiday types.
const Weekdays = 7

// Schedule is a compiled week: a bit for each minute of each kind of day, and apart from it the part that
// runs on past midnight into whatever day follows.
type Schedule struct {
	own, spill []mask
}

// CompileWeek prepares a week for asking.
func CompileWeek(w Week) Schedule {
	s := Schedule{own: make([]mask, Weekdays), spill: make([]mask, Weekdays)}
	for d, periods := range w {
		for _, p := range periods {
			s.own[d].set(p.Start, min(p.End, DayMinutes))
			if p.End > DayMinutes {
				s.spill[d].set(0, min(p.End-DayMinutes, DayMinutes))
			}
		}
	}
	return s
}

func kindOf(d Day) Kind { return Kind(d.Weekday()) }

// Open reports whether a wall-clock minute is in the schedule.
func (s *Schedule) Open(d Day, minute int) bool {
	return s.own[kindOf(d)].has(minute) || s.spill[kindOf(d-1)].has(minute)
}

// OpenAt reports whether an instant is in the schedule.
func (s *Schedule) OpenAt(z *Zone, i Instant) bool {
	w := z.Wall(i)
	return s.Open(w.Day, w.Minute)
}

func (s *Schedule) mask(d Day) mask {
	m := s.own[kindOf(d)]
	tail := &s.spill[kindOf(d-1)]
	for i := range m {
		m[i] |= tail[i]
	}
	return m
}

func (s *Schedule) value(d Day, minute int) int {
	if s.Open(d, minute) {
		return 1
	}
	return 0
}

func (s *Schedule) edge(d Day, minute int) int {
	return edge(&s.own[kindOf(d)], &s.spill[kindOf(d-1)], minute)
}

// Next returns the first instant after i at which the schedule opens or closes, or Never.
func (s *Schedule) Next(z *Zone, i Instant) Instant { return next(z, s, i) }

// NextOpen returns the first instant at or after i at which the schedule is open, or Never.
func (s *Schedule) NextOpen(z *Zone, i Instant) Instant {
	if s.OpenAt(z, i) {
		return i
	}
	return s.Next(z, i)
}

// pattern is something with a value for each wall-clock minute.
type pattern interface {
	value(d Day, minute int) int
	edge(d Day, minute int) int // a minute after the given one up to which the value surely stays; 1440 at most
}

// horizon bounds the search for a change: a week repeats, so what has not changed in 9 days and across the
// zone's next change does not change.
const horizon = 9

// next walks from edge to edge on the wall clock inside one stretch of constant offset, then looks at the
// clock again where the offset changes.
func next[P pattern](z *Zone, p P, i Instant) Instant {
	offset, end := z.OffsetAt(i)
	w := wall(i, offset)
	was := p.value(w.Day, w.Minute)
	for {
		limit := w.Day + horizon
		for w.Day <= limit {
			minute := p.edge(w.Day, w.Minute)
			day := w.Day
			if minute >= DayMinutes {
				day, minute = day+1, 0
			}
			at := Instant((int64(day)*86400 + int64(minute)*60 - int64(offset.Seconds)) * 1000)
			if at >= end {
				break
			}
			if p.value(day, minute) != was {
				return at
			}
			w.Day, w.Minute = day, minute
		}
		if end == Never {
			return Never
		}
		at := end
		offset, end = z.OffsetAt(at)
		w = wall(at, offset)
		if p.value(w.Day, w.Minute) != was {
			return at
		}
	}
}
